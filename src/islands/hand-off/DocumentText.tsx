/** A document of blocks as it is read on the page. */
import type { Block } from '../../core/formats/blocks';
import { Rich } from '../../ui/Rich';

const LOOK = {
  1: 'mb-2 text-[1.5rem] font-bold',
  2: 'mt-5 mb-1.5 border-t border-ink pt-2 text-[1.1rem] font-bold',
  3: 'mt-4 mb-1 font-bold',
  4: 'mt-2 mb-1 font-semibold text-ink-2',
} as const;

/** Bold parts as such, names in back quotes as wire names. */
const Line = ({ text }: { text: string }) =>
  text.split('**').map((part, i) => (i % 2 === 1 ? <b key={i}>{part}</b> : <Rich key={i} text={part} />));

const Part = ({ b }: { b: Block }) => {
  switch (b.is) {
    case 'heading': {
      const Tag = `h${b.level}` as const;
      return <Tag className={LOOK[b.level]}>{b.text}</Tag>;
    }
    case 'text':
      return (
        <p className="my-1.5">
          <Line text={b.text} />
        </p>
      );
    case 'list': {
      const Tag = b.numbered ? 'ol' : 'ul';
      return (
        <Tag className={`my-1.5 pl-5 ${b.numbered ? 'list-decimal' : 'list-disc'}`}>
          {b.items.map((x, i) => (
            <li key={i}>
              <Line text={x} />
            </li>
          ))}
        </Tag>
      );
    }
    case 'table':
      return (
        <table className="w-full border-collapse text-[0.93rem]">
          <thead>
            <tr className="text-left text-ink-2">
              {b.head.map((h) => (
                <th key={h} className="pr-3 pb-1 font-medium">
                  {h}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {b.rows.map((r, i) => (
              <tr key={i} className="border-t border-rule align-top">
                {r.map((c, j) => (
                  <td key={j} className="py-1 pr-3">
                    <Line text={c} />
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      );
    case 'code':
      return (
        <pre tabIndex={0} aria-label="Sample message" className="my-2 overflow-x-auto border border-rule bg-ground p-3 wire">
          {b.text}
        </pre>
      );
  }
};

export const DocumentText = ({ blocks }: { blocks: readonly Block[] }) => (
  <div className="max-w-[760px]">
    {blocks.map((b, i) => (
      <Part key={i} b={b} />
    ))}
  </div>
);
