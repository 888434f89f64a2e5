/** CloudEvents 1.0: the examples of its specification, its own rules, and what the package cloudevents 10 writes. */
import { CloudEvent, HTTP } from 'cloudevents';
import { describe, expect, test } from 'vitest';
import { readMessage } from '../../src/core/arrival/message';
import { messageOfCloudEvent, structuredOf } from '../../src/core/formats/cloudevents';

/** After the example of the JSON event format 1.0.2, section 3.2, with a JSON object as its data; quoted from memory. */
const EXAMPLE = {
  specversion: '1.0',
  type: 'com.example.someevent',
  source: '/mycontext',
  subject: null,
  id: 'C234-1234-1234',
  time: '2018-04-05T17:31:00Z',
  comexampleextension1: 'value',
  comexampleothervalue: 5,
  datacontenttype: 'application/json',
  data: { appinfoA: 'abc', appinfoB: 123, appinfoC: true },
};

const without = (name: string): Record<string, unknown> => Object.fromEntries(Object.entries(EXAMPLE).filter(([k]) => k !== name));
const detail = (v: unknown): string => {
  const read = messageOfCloudEvent(v);
  return read.ok ? 'read' : read.detail;
};

describe('structured mode', () => {
  test('the example of the specification is a message, and keeps its attributes', () => {
    const read = messageOfCloudEvent(EXAMPLE);
    expect(read.ok && readMessage(read.message)).toMatchObject({
      ok: true,
      message: {
        id: '/mycontext C234-1234-1234',
        name: 'com.example.someevent',
        occurredAt: Date.UTC(2018, 3, 5, 17, 31),
        properties: EXAMPLE.data,
      },
    });
    expect(read.ok && read.message['cloudevent']).toEqual(without('data'));
  });
  // CloudEvents 1.0.2: REQUIRED attributes, "Attribute Naming Convention", "Type System"; JSON format 3.1.1: data and data_base64.
  test.each([
    ['no id', without('id'), '`id`'],
    ['no source', without('source'), '`source`'],
    ['no type', without('type'), '`type`'],
    ['an empty type', { ...EXAMPLE, type: '' }, '`type`'],
    ['another version', { ...EXAMPLE, specversion: '2.0' }, '`specversion`'],
    ['no version', without('specversion'), '`specversion`'],
    ['an attribute with an underscore', { ...EXAMPLE, user_id: 'm' }, 'user_id'],
    ['an attribute in capitals', { ...EXAMPLE, userId: 'm' }, 'userId'],
    ['an attribute that is an object', { ...EXAMPLE, ext: {} }, '`ext`'],
    ['data twice', { ...EXAMPLE, data_base64: 'AA==' }, 'data_base64'],
    ['bytes', { ...without('data'), data_base64: 'AA==' }, 'bytes'],
    ['data of another type', { ...EXAMPLE, datacontenttype: 'application/xml' }, 'application/xml'],
    ['data that is text', { ...EXAMPLE, data: 'abc' }, '`data`'],
    ['no time, which we need', without('time'), '`time`'],
    ['a list', [EXAMPLE], 'object'],
  ])('%s is rejected, and says why', (_, v, word) => {
    expect(detail(v)).toContain(word);
  });
});

const event = new CloudEvent({
  id: 'e-1',
  source: '/hall/7',
  type: 'Crate Moved',
  time: '2026-11-23T10:00:00.000Z',
  userid: 'm-7',
  deviceid: 'd-1',
  release: '1.2',
  data: { weight: 4, hall: 'ä' },
});
const EXPECTED = {
  id: '/hall/7 e-1',
  name: 'Crate Moved',
  time: '2026-11-23T10:00:00.000Z',
  release: '1.2',
  ids: { user: 'm-7', device: 'd-1' },
  properties: { weight: 4, hall: 'ä' },
};

test('what the package writes, in structured and in binary mode, is the same message', () => {
  const structured = messageOfCloudEvent(JSON.parse(HTTP.structured(event).body as string));
  expect(structured.ok && structured.message).toMatchObject(EXPECTED);
  const { headers, body } = HTTP.binary(event);
  const binary = messageOfCloudEvent(structuredOf(Object.entries(headers as Record<string, string>), JSON.parse(body as string)));
  expect(binary.ok && binary.message).toMatchObject(EXPECTED);
});

test('header values are percent-decoded (HTTP protocol binding 3.1.3.2, its example)', () => {
  expect(structuredOf([['ce-type', 'Euro%20%E2%82%AC%20%F0%9F%98%80']], undefined)).toEqual({ type: 'Euro € 😀' });
  expect(structuredOf([['CE-Type', '100%']], undefined)).toEqual({ type: '100%' });
});
