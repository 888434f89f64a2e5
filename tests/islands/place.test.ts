/** Places in the address: what is written is read again, whatever names and keys are made of. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  addressOf,
  places,
  identifierIn,
  itemOf,
  partsOf,
  placeOf,
  STATIONS,
  upFrom,
  type Place,
  type To,
} from '../../src/islands/workplace/place';
import { COUNTED } from '../../src/core/table/traffic';

const nasty = fc.oneof(
  fc.string({ minLength: 1 }),
  fc.string({ unit: 'grapheme', minLength: 1 }),
  fc.constantFrom(':', '%', '%3A', '%25', 'a:b', '["x","y"]', 'a/b', '../..', '?item=x', '#', 'Tool Viewed', 'anna@example.org', '100 %'),
);
const wellFormed = nasty.filter((s) => s.isWellFormed());
const read = (address: string) => {
  const url = new URL(address, 'http://here');
  return placeOf({ pathname: url.pathname, search: url.search });
};

describe('an item of an address', () => {
  it('gives its parts again', () => {
    fc.assert(
      fc.property(fc.array(wellFormed, { minLength: 1, maxLength: 4 }), (parts) => {
        expect(partsOf(itemOf(...parts))).toEqual(parts);
      }),
    );
    expect(partsOf(undefined)).toEqual([]);
  });

  it('is the same after it was an address', () => {
    const lens = fc.record({
      traffic: fc.record({
        environment: fc.constantFrom('production', '', 'staging.eu', 'a & b'),
        marks: fc.constantFrom('unmarked', 'marked too', 'marked only'),
        consent: fc.constantFrom('', 'granted', 'denied'),
      }),
      rules: fc.constantFrom('version', 'draft'),
    });
    const place = fc.record({
      station: fc.constantFrom(...STATIONS.map((s) => s.id)),
      item: fc.option(
        fc.array(wellFormed, { minLength: 1, maxLength: 3 }).map((p) => itemOf(...p)),
        { nil: undefined },
      ),
      lens,
    }) as fc.Arbitrary<Place>;
    fc.assert(
      fc.property(place, (p) => {
        expect(read(addressOf(p))).toEqual(p);
      }),
    );
  });

  it('is plain to read where its parts are plain', () => {
    const lens = { traffic: COUNTED, rules: 'version' } as const;
    const [station, item] = places.row('event', 'tool-viewed');
    expect(addressOf({ station, item, lens })).toBe('/plan/event:tool-viewed');
    expect(addressOf({ station: 'arrivals', item: places.profile('Tool Viewed')[1], lens })).toBe('/arrivals?item=profile%3ATool+Viewed');
  });

  it('is read from addresses that nobody wrote, too', () => {
    expect(read('/nowhere')).toMatchObject({ station: 'questions', item: undefined });
    expect(read('/')).toMatchObject({ station: 'questions', item: undefined });
    expect(read('/plan/%E0%A4%A')).toMatchObject({ station: 'plan', item: '%E0%A4%A' });
  });

  it('names an identifier by kind and value', () => {
    fc.assert(
      fc.property(wellFormed, wellFormed, (kind, value) => {
        const [, ...parts] = partsOf(places.logbook({ kind, value })[1]);
        expect(identifierIn(parts)).toEqual({ kind, value });
      }),
    );
    expect(identifierIn([])).toBeUndefined();
    expect(identifierIn(['user'])).toBeUndefined();
  });
});

describe('Escape', () => {
  const from = ([station, item]: To) => upFrom({ station, item, lens: { traffic: COUNTED, rules: 'version' } });
  it('leads from what is opened to its list, and from a list nowhere', () => {
    expect(from(places.opened('event', 'e:1'))).toEqual(places.row('event', 'e:1'));
    expect(from(places.proposal('p'))).toEqual(places.plan('proposals'));
    expect(from(places.finding('["x"]'))).toEqual(places.findings());
    expect(from(places.profile('Tool Viewed'))).toEqual(places.arrivals('profile'));
    expect(from(places.benchCase('b'))).toEqual(places.identity('bench'));
    for (const to of [places.row('event', 'e'), places.plan('limits'), places.findings(), places.question('q'), places.identity('health')])
      expect([to, from(to)]).toEqual([to, undefined]);
  });
});
