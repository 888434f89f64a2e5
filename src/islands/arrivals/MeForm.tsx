/** Who says which identifier is theirs. */
import { useState } from 'react';
import { Button } from '../../ui/Button';
import { Cancel, OpenForm } from '../../ui/OpenForm';

const OFFERED = 40;

interface Props {
  /** Identifiers in sight, with their kinds. */
  readonly seen: ReadonlyMap<string, string>;
  readonly onMe: (identifier: string) => void;
  readonly onClose: () => void;
}

export const MeForm = ({ seen, onMe, onClose }: Props) => {
  const [text, setText] = useState('');
  return (
    <OpenForm
      onClose={onClose}
      className="flex w-full items-center gap-2 px-3 pb-1"
      onSubmit={() => (text.trim() === '' ? undefined : onMe(text.trim()))}
    >
      <input
        autoFocus
        list="identifiers-in-sight"
        aria-label="An identifier of mine"
        placeholder="user ID, device ID or anonymous ID"
        value={text}
        onChange={(e) => setText(e.target.value)}
        className="min-w-0 flex-1 border border-ink-2 bg-transparent px-2 py-0.5 wire placeholder:font-sans placeholder:text-ink-2"
      />
      <datalist id="identifiers-in-sight">
        {[...seen].slice(0, OFFERED).map(([value, kind]) => (
          <option key={value} value={value}>
            {kind}
          </option>
        ))}
      </datalist>
      <Button type="submit" className="text-sm">
        Show only me
      </Button>
      <Cancel />
    </OpenForm>
  );
};
