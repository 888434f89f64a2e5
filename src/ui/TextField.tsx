/** A text that is edited where it is read: saved on Enter or on leaving, put back on Escape. */
import { useEffect, useRef } from 'react';
import { useCommit } from './use-commit';

interface Props {
  readonly label: string;
  readonly value: string;
  readonly placeholder?: string;
  readonly className?: string;
  readonly autoFocus?: boolean;
  readonly onSave: (value: string) => void;
}

export const TextField = ({ label, value, placeholder, className = '', autoFocus = false, onSave }: Props) => {
  const { text, problem, field } = useCommit(value, onSave);
  const area = useRef<HTMLTextAreaElement>(null);
  useEffect(() => {
    if (autoFocus) area.current?.focus();
  }, [autoFocus]);
  useEffect(() => {
    const a = area.current;
    // Where the browser fits it to its text, it follows a change of width, too.
    if (!a || CSS.supports('field-sizing', 'content')) return;
    a.style.height = '0';
    a.style.height = `${a.scrollHeight}px`;
  }, [text]);
  return (
    <>
      <textarea
        ref={area}
        aria-label={label}
        rows={1}
        placeholder={placeholder}
        {...field}
        onKeyDown={(e) => {
          field.onKeyDown(e);
          if (e.key === 'Enter' && !e.shiftKey) e.currentTarget.blur();
        }}
        className={`block [field-sizing:content] w-full resize-none overflow-hidden border-b border-transparent bg-transparent outline-none placeholder:text-ink-2 hover:border-rule focus:border-accent ${className}`}
      />
      {problem === undefined ? null : (
        <span role="alert" className="block text-sm text-stop">
          {problem}
        </span>
      )}
    </>
  );
};
