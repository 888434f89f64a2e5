import type { ButtonHTMLAttributes } from 'react';

const BASE =
  'inline-flex items-center gap-1.5 border px-3 py-1 font-semibold whitespace-nowrap disabled:text-ink-2 disabled:bg-transparent';
const LOOKS = {
  plain: 'border-accent text-accent hover:bg-wash disabled:border-rule',
  full: 'border-accent bg-accent text-accent-ink hover:opacity-90 disabled:border-rule',
  quiet: 'border-transparent text-accent enabled:hover:bg-wash px-2',
} as const;

export const Button = ({
  look = 'plain',
  className = '',
  ...rest
}: ButtonHTMLAttributes<HTMLButtonElement> & { look?: keyof typeof LOOKS }) => (
  <button type="button" className={`${BASE} ${LOOKS[look]} ${className}`} {...rest} />
);
