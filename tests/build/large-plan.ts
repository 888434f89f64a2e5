/** A made-up plan of any size, for speed and for scrolling. */
import { create } from './plan';
import { DEFAULT_SETTINGS } from '../../src/core/plan/defaults';
import { applyEdits, type Edit } from '../../src/core/plan/edit';
import { emptyPlan, type Plan } from '../../src/core/plan/plan';

const OBJECTS =
  'tool loan member branch guide workshop reservation fee deposit shelf voucher parcel invoice course repair locker badge stall crate pallet ladder drill tent sewing bench vice clamp lathe chisel hammer'.split(
    ' ',
  );
const ACTIONS =
  'viewed started returned booked cancelled extended confirmed requested charged searched opened closed printed scanned moved weighed'.split(
    ' ',
  );
/** Word pairs, so that three thousand names can differ by more than a letter. */
const ASPECTS = 'colour weight height label maker model price age batch region'.split(' ');
const FORMS = 'first second latest planned measured shown billed stored scanned preferred'.split(' ');
const capital = (w: string): string => w[0]!.toUpperCase() + w.slice(1);

/** The edits that make it: events in flows, each with properties of its own. */
export const largePlanEdits = (events: number, properties: number): Edit[] => {
  const edits: Edit[] = [create('source', 'web', { name: 'Web', mark: 'W' })];
  for (let i = 0; i < properties; i++) {
    const name =
      [OBJECTS[i % 30], FORMS[Math.floor(i / 30) % 10], ASPECTS[Math.floor(i / 300) % 10]].join('_') + (i >= 3000 ? `_${i}` : '');
    edits.push(
      create('property', `p${i}`, {
        name,
        description: 'Made up.',
        samples: ['a', 'b'],
        describes: OBJECTS[i % OBJECTS.length]!,
        // One in ten waits for its question.
        keepReason: i % 10 === 0 ? '' : 'Made up.',
      }),
    );
  }
  for (let i = 0; i < events; i++) {
    // 125 things with four events each.
    const k = i % 125;
    const object = `${FORMS[Math.floor(k / OBJECTS.length)]!} ${OBJECTS[k % OBJECTS.length]!}`;
    const action = ACTIONS[Math.floor(i / 125) % ACTIONS.length]!;
    edits.push(
      create('event', `e${i}`, {
        name: `${object.split(' ').map(capital).join(' ')} ${capital(action)}`,
        object,
        action,
        order: i,
        flow: `Flow ${i % 12}`,
        description: 'Made up.',
        trigger: 'The server has stored it.',
        owner: 'Nobody',
        sources: [{ sourceId: 'web', required: true, build: 'proposed' }],
        properties: Array.from({ length: 6 }, (_, k) => ({ propertyId: `p${(i * 6 + k) % properties}`, required: true })),
      }),
    );
  }
  return edits;
};

export const largePlan = (events = 500, properties = 3000): Plan => {
  const r = applyEdits(emptyPlan(DEFAULT_SETTINGS), largePlanEdits(events, properties));
  if (!r.ok) throw new Error(JSON.stringify(r.problem));
  return r.plan;
};
