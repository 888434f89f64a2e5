/** Three-level names (group / action / detail), as some older collections keep them, and events with a property: both ways. */
import { toCase } from '../naming/case-style';
import { agreedName, objectAction } from '../naming/object-action';
import { lowerWords } from '../naming/words';
import { blank } from '../plan/defaults';
import type { Edit } from '../plan/edit';
import { entries, settingsOf, type Id, type Plan } from '../plan/plan';
import { indexOf, plannedPropertiesOf } from '../plan/plan-index';

export interface ThreeLevelName {
  readonly group: string;
  readonly action: string;
  readonly detail: string;
}

const SEPARATOR = ' / ';

/** One name a line, levels parted by a slash; a detail may hold slashes of its own. */
export const readThreeLevel = (text: string): { names: ThreeLevelName[]; problems: { row: number; detail: string }[] } => {
  const names: ThreeLevelName[] = [];
  const problems: { row: number; detail: string }[] = [];
  for (const [i, line] of text.split(/\r?\n/).entries()) {
    if (line.trim() === '') continue;
    const [group = '', action = '', ...detail] = line.split('/').map((p) => p.trim());
    if (group === '' || action === '')
      problems.push({ row: i + 1, detail: `“${line.trim().slice(0, 80)}” has no group and action; write group / action / detail.` });
    else names.push({ group, action, detail: detail.join('/') });
  }
  return { names, problems };
};

export const writeThreeLevel = (names: readonly ThreeLevelName[]): string =>
  names.map((n) => [n.group, n.action, ...(n.detail === '' ? [] : [n.detail])].join(SEPARATOR)).join('\n') + (names.length > 0 ? '\n' : '');

/** Name of the property that holds the third level: the event's object, and what it is told by. */
const detailName = (plan: Plan, group: string): string => toCase(`${group} detail`, settingsOf(plan).naming.propertyCase);
const NOTE = 'Was the three-level name ';

/** The edits that bring three-level names in: one event for each group and action, the details as the listed values of a property.
 *  The old levels are kept in the event's notes, so that they can be given back as they were.
 */
export const importThreeLevel = (plan: Plan, names: readonly ThreeLevelName[], newId: () => Id): Edit[] => {
  const edits: Edit[] = [];
  const { naming } = settingsOf(plan);
  const events = new Map<string, Map<string, Set<string>>>();
  for (const n of names) {
    const actions = events.get(n.group) ?? new Map<string, Set<string>>();
    const details = actions.get(n.action) ?? new Set<string>();
    if (n.detail !== '') details.add(n.detail);
    actions.set(n.action, details);
    events.set(n.group, actions);
  }
  let order = Math.max(0, ...entries(plan, 'event').map(([, e]) => e.order));
  const taken = new Set(indexOf(plan).eventByName.keys());
  for (const [group, actions] of events) {
    const values = new Set([...actions.values()].flatMap((d) => [...d]));
    let propertyId = indexOf(plan).propertyAt.get(detailName(plan, group));
    if (propertyId === undefined && values.size > 0) {
      propertyId = newId();
      const allowed = [...values];
      const body = blank('property', {
        name: detailName(plan, group),
        description: `Third level of the names of ${group}.`,
        allowed,
        samples: allowed.slice(0, 2),
        describes: lowerWords(group).join(' '),
      });
      edits.push({ op: 'create', kind: 'property', id: propertyId, body });
    }
    for (const [action, details] of actions) {
      const parts = objectAction(`${group} ${action}`, naming);
      const name = parts ? agreedName(parts, naming) : toCase(`${group} ${action}`, naming.eventCase);
      if (taken.has(name)) continue;
      taken.add(name);
      const body = blank('event', {
        name,
        object: lowerWords(group).join(' '),
        action: lowerWords(action).join(' '),
        order: ++order,
        notes: `${NOTE}${JSON.stringify({ group, action, details: [...details] })}`,
        properties:
          propertyId !== undefined && details.size > 0
            ? [{ propertyId, required: true, ...(details.size < values.size ? { allowed: [...details] } : {}) }]
            : [],
      });
      edits.push({ op: 'create', kind: 'event', id: newId(), body });
    }
  }
  return edits;
};

const remembered = (notes: string): { group: string; action: string; details: string[] } | undefined => {
  const line = notes.split('\n').find((l) => l.startsWith(NOTE));
  if (line === undefined) return undefined;
  try {
    return JSON.parse(line.slice(NOTE.length)) as { group: string; action: string; details: string[] };
  } catch {
    return undefined;
  }
};

/** The plan's events as three-level names: as they came in where that is known; else object, action, and each listed value of the first
 *  property that has a list.
 */
export const threeLevelNames = (plan: Plan): ThreeLevelName[] =>
  entries(plan, 'event')
    .sort(([, a], [, b]) => a.order - b.order)
    .flatMap(([id, e]): ThreeLevelName[] => {
      const old = remembered(e.notes);
      const group = old?.group ?? e.object;
      const action = old?.action ?? e.action;
      const values = old?.details ?? plannedPropertiesOf(plan, id).find((p) => p.property.allowed.length > 0)?.property.allowed ?? [];
      const level = { group: group || e.name, action: action || e.name };
      return values.length === 0 ? [{ ...level, detail: '' }] : values.map((detail) => ({ ...level, detail }));
    });
