/** A text that is edited where it is read: saved on Enter or on leaving, put back on Escape. */
import { useEffect, useRef, useState } from 'react';

interface Props {
  readonly label: string;
  readonly value: string;
  readonly placeholder?: string;
  readonly className?: string;
  readonly autoFocus?: boolean;
  readonly onSave: (value: string) => void;
}

export const TextField = ({ label, value, placeholder, className = '', autoFocus = false, onSave }: Props) => {
  const [text, setText] = useState(value);
  const area = useRef<HTMLTextAreaElement>(null);
  useEffect(() => setText(value), [value]);
  useEffect(() => {
    if (autoFocus) area.current?.focus();
  }, [autoFocus]);
  useEffect(() => {
    const a = area.current;
    if (!a) return;
    a.style.height = '0';
    a.style.height = `${a.scrollHeight}px`;
  }, [text]);
  const save = () => {
    if (text !== value) onSave(text);
  };
  return (
    <textarea
      ref={area}
      aria-label={label}
      rows={1}
      value={text}
      placeholder={placeholder}
      onChange={(e) => setText(e.target.value)}
      onBlur={save}
      onKeyDown={(e) => {
        if (e.key === 'Enter' && !e.shiftKey) {
          e.preventDefault();
          e.currentTarget.blur();
        }
        if (e.key === 'Escape') {
          e.stopPropagation();
          setText(value);
        }
      }}
      className={`block w-full resize-none overflow-hidden border-b border-transparent bg-transparent outline-none placeholder:text-ink-2 hover:border-rule focus:border-accent ${className}`}
    />
  );
};
