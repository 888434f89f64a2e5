/** All findings of the plan's own rules, gravest first. */
import { lintMessage, type LintFinding } from '../../core/lint/lint';
import { Button } from '../../ui/Button';
import { Empty } from '../../ui/States';
import { useWorkplace } from '../workplace/context';
import { FindingNote } from './PlanMargin';

export const FindingList = ({ findings }: { findings: readonly LintFinding[] }) => {
  const { go } = useWorkplace();
  if (findings.length === 0) return <Empty title="Nothing found.">Every rule that is switched on holds.</Empty>;
  return (
    <div className="max-w-[820px] px-7 py-5">
      <h2 className="mb-3 text-lg font-bold">What the rules find</h2>
      {findings.map((f) => (
        <div key={`${f.code} ${f.path.join('.')} ${lintMessage(f)}`} className="flex items-start gap-4">
          <div className="min-w-0 flex-1">
            <FindingNote finding={f} typing={false} />
          </div>
          <Button
            look="quiet"
            className="text-sm"
            onClick={() => (f.path[0] === 'question' ? go('questions', String(f.path[1])) : go('plan', `${f.path[0]}:${f.path[1]}`))}
          >
            Go there
          </Button>
        </div>
      ))}
    </div>
  );
};
