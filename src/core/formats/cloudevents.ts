/** CloudEvents 1.0 read as messages. Source: CloudEvents specification 1.0.2, its JSON event format and its HTTP protocol binding. */

const isObject = (v: unknown): v is Record<string, unknown> => typeof v === 'object' && v !== null && !Array.isArray(v);

export type CloudEventReading =
  | { readonly ok: true; readonly message: Record<string, unknown> }
  | { readonly ok: false; readonly detail: string };

/** Attribute names: lower-case letters and digits. Source: CloudEvents 1.0.2, "Attribute Naming Convention". */
const ATTRIBUTE = /^[a-z0-9]+$/;
const CONTEXT: ReadonlySet<string> = new Set(['id', 'source', 'specversion', 'type', 'datacontenttype', 'dataschema', 'subject', 'time']);
const JSON_TYPE = /^(?:[^;]*[/+])?json\s*(?:;|$)/i;

const no = (detail: string): CloudEventReading => ({ ok: false, detail });

/** Extensions that mean fields of a message; an identifier kind is an extension of its own, with `id` behind it. */
const ID_EXTENSION = /^([a-z0-9]+)id$/;

/** One event in structured mode as a message: `type` is its name, `source` and `id` together its ID, `data` its properties. Extensions
 *  `userid`, `deviceid`, `anonymousid` and the like are identifiers of the kind before "id"; `release`, `page` and `kind` are those of a
 *  message. All attributes are kept under `cloudevent`, so that nothing of the event is lost.
 *  Errors: what an event must have and has not, in words.
 */
export const messageOfCloudEvent = (v: unknown): CloudEventReading => {
  if (!isObject(v)) return no('A CloudEvent is a JSON object.');
  if (v['specversion'] !== '1.0') return no('`specversion` is "1.0".');
  for (const name of ['id', 'source', 'type'] as const)
    if (typeof v[name] !== 'string' || v[name] === '') return no(`\`${name}\` is text, and not empty.`);
  const extensions: [string, unknown][] = [];
  for (const [name, value] of Object.entries(v)) {
    if (name === 'data' || name === 'data_base64') continue;
    if (!ATTRIBUTE.test(name)) return no(`The attribute \`${name.slice(0, 60)}\` has other characters than a to z and 0 to 9.`);
    if (value !== null && typeof value === 'object') return no(`The attribute \`${name}\` is text, a number or a boolean.`);
    if (!CONTEXT.has(name) && value !== null) extensions.push([name, value]);
  }
  if ('data' in v && 'data_base64' in v) return no('`data` and `data_base64` cannot both be given.');
  if ('data_base64' in v) return no('`data_base64` holds bytes; send the properties as a JSON object in `data`.');
  const { data, ...cloudevent } = v;
  if (data !== undefined && data !== null && !isObject(data)) return no('`data` is a JSON object: the properties of the event.');
  if (typeof v['datacontenttype'] === 'string' && !JSON_TYPE.test(v['datacontenttype']))
    return no(`\`datacontenttype\` is "${v['datacontenttype'].slice(0, 60)}"; send JSON.`);
  if (v['time'] === undefined || v['time'] === null)
    return no('`time` is optional in a CloudEvent and needed here: it says when it happened.');
  const ids = Object.fromEntries(
    extensions.flatMap(([name, value]) => (ID_EXTENSION.test(name) ? [[name.slice(0, -2), String(value)]] : [])),
  );
  const field = (name: string) => extensions.filter(([n, value]) => n === name && typeof value === 'string');
  return {
    ok: true,
    message: {
      id: `${String(v['source'])} ${String(v['id'])}`,
      name: v['type'],
      time: v['time'],
      ...Object.fromEntries([...field('release'), ...field('page'), ...field('kind')]),
      ids,
      properties: data ?? {},
      cloudevent,
    },
  };
};

/** The structured form of an event in binary mode: attributes from headers that begin with `ce-`, data from the body.
 *  Header values are percent-decoded. Source: CloudEvents 1.0.2, HTTP protocol binding, 3.1.3.2.
 */
export const structuredOf = (headers: Iterable<readonly [string, string]>, data: unknown): Record<string, unknown> => {
  const event: Record<string, unknown> = {};
  for (const [name, value] of headers) {
    const lower = name.toLowerCase();
    if (lower === 'content-type') event['datacontenttype'] = value;
    else if (lower.startsWith('ce-')) event[lower.slice(3)] = decoded(value);
  }
  return data === undefined ? event : { ...event, data };
};

const decoded = (value: string): string => {
  try {
    return decodeURIComponent(value);
  } catch {
    return value;
  }
};
