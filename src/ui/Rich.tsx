/** Text whose names in back quotes are shown as wire names. */
import { Fragment } from 'react';

export const Rich = ({ text }: { text: string }) =>
  text.split('`').map((part, i) =>
    i % 2 === 1 ? (
      <span key={i} className="bg-wash px-[3px] py-px wire break-words">
        {part}
      </span>
    ) : (
      <Fragment key={i}>{part}</Fragment>
    ),
  );
