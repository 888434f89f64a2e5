/** A question's signal as a picture with its words, to be put into other people's pages. Source: SVG 2, W3C. */
import type { Answer } from '../clearance/answer';
import type { Signal } from '../clearance/gate';
import { ARM_TURN, GLYPH, SIGNAL_WORDS } from '../clearance/glyph';
import { xmlText } from './xml-text';

/** Of paper, with a contrast of 4.5 and more to it. */
const INK = { ink: '#17211d', second: '#4c5852', paper: '#fbf9f3', rule: '#d3cdbc' } as const;
const TEXT: Readonly<Record<Signal, string>> = { stop: '#ae2f18', caution: '#8a5b00', clear: '#3b6a2e', open: INK.second };
const FILL: Readonly<Record<Exclude<Signal, 'open'>, string>> = { stop: '#ae2f18', caution: '#d7981f', clear: '#3b6a2e' };
const WIDTH = 340;
const HEIGHT = 56;
const MAX_LETTERS = 46;

const letters = new Intl.Segmenter('en', { granularity: 'grapheme' });
const cut = (s: string): string => {
  const all = Array.from(letters.segment(s.slice(0, 20 * MAX_LETTERS)), (l) => l.segment);
  return all.length > MAX_LETTERS ? `${all.slice(0, MAX_LETTERS - 1).join('')}…` : s;
};

const glyph = (signal: Signal): string =>
  signal === 'open'
    ? `<circle cx="7" cy="6" r="2.6" fill="${INK.paper}" stroke="${INK.ink}" stroke-width="1.5"/>`
    : `<g transform="rotate(${ARM_TURN[signal]} 7 7)"><path d="${GLYPH.arm}" fill="${FILL[signal]}"/><path d="${GLYPH.band}" fill="${INK.paper}"/><circle cx="7" cy="7" r="1.3" fill="${INK.paper}"/></g>`;

/** The picture: the signal, its word, up to when the figure is complete, and the question. `at`: the moment it is of, in words. */
export const signalSvg = (
  { signal, text, completeUpTo, gates }: Pick<Answer, 'signal' | 'text' | 'completeUpTo' | 'gates'>,
  at: string,
): string => {
  const word = SIGNAL_WORDS[signal];
  const waived = gates.filter((g) => g.waived).map((g) => g.gate);
  const more = [
    ...(completeUpTo === null ? [] : [`complete up to ${completeUpTo}`]),
    ...(waived.length > 0 ? [`waived: ${waived.join(', ')}`] : []),
  ];
  const says = [word, ...more].join(', ');
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" width="${WIDTH}" height="${HEIGHT}" viewBox="0 0 ${WIDTH} ${HEIGHT}" role="img" aria-label="${xmlText(`${says}: ${text}`)}">`,
    `<title>${xmlText(`${says}: ${text} (${at})`)}</title>`,
    `<rect x=".5" y=".5" width="${WIDTH - 1}" height="${HEIGHT - 1}" fill="${INK.paper}" stroke="${INK.rule}"/>`,
    `<g transform="translate(10 10) scale(1.5)"><path d="${GLYPH.post}" stroke="${INK.ink}" stroke-width="1.7" stroke-linecap="square" fill="none"/>${glyph(signal)}</g>`,
    `<g font-family="system-ui, sans-serif"><text x="56" y="24" font-size="14" font-weight="700" fill="${TEXT[signal]}">${xmlText(word)}<tspan font-size="12" font-weight="400" fill="${INK.second}" dx="8">${xmlText(more.join(', '))}</tspan></text>`,
    `<text x="56" y="43" font-size="12" fill="${INK.ink}">${xmlText(cut(text))}</text></g>`,
    '</svg>',
  ].join('');
};
