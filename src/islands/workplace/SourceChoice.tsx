/** One of the plan’s sources, or all of them. */
import { entries } from '../../core/plan/plan';
import { usePlan } from './context';

interface Props {
  /** ID of the source; empty for all. */
  readonly value: string;
  readonly label?: string;
  readonly className?: string;
  readonly onChoose: (sourceId: string) => void;
}

export const SourceChoice = ({ value, label, className = '', onChoose }: Props) => (
  <select
    aria-label={label}
    className={`border border-rule bg-paper ${className}`}
    value={value}
    onChange={(e) => onChoose(e.target.value)}
  >
    <option value="">every source</option>
    {entries(usePlan(), 'source').map(([id, s]) => (
      <option key={id} value={id}>
        {s.name}
      </option>
    ))}
  </select>
);
