/** The entries of stations: each once, each under one heading, and read from the address as it is written there. */
import { describe, expect, it } from 'vitest';
import { SHEETS } from '../../src/core/plan/fields/index';
import { arrivalsPlace, VIEW_GROUPS } from '../../src/islands/arrivals/views';
import { SETTING_SHEET_IDS, PLAN_GROUPS, planPlace } from '../../src/islands/plan/views';
import { SETTING_SHEETS } from '../../src/core/plan/fields/setting-sheets';
import { places } from '../../src/islands/workplace/place';

describe('the entries of Plan', () => {
  const entries = PLAN_GROUPS.flatMap((g) => g.entries);
  it('are each there once, with every sheet under its own title', () => {
    expect(new Set(entries.map((e) => e.id)).size).toBe(entries.length);
    for (const s of SHEETS) expect(entries.find((e) => e.id === s.id)).toEqual({ id: s.id, title: s.title });
  });
  it('name the sheets that are loaded when they are opened', () => {
    expect(SETTING_SHEETS.map((s) => s.id)).toEqual(SETTING_SHEET_IDS);
  });
  it('are at most five in a group', () => {
    for (const g of PLAN_GROUPS) expect(g.entries.length).toBeLessThanOrEqual(5);
  });
  it('are read from the address', () => {
    expect(planPlace(undefined)).toEqual({ view: 'event', id: undefined, opened: false });
    expect(planPlace(places.row('event', 'e:1')[1])).toEqual({ view: 'event', id: 'e:1', opened: false });
    expect(planPlace(places.opened('property', 'p')[1])).toEqual({ view: 'property', id: 'p', opened: true });
    expect(planPlace(places.proposal('x')[1])).toEqual({ view: 'proposal', id: 'x', opened: false });
    expect(planPlace('event:')).toEqual({ view: 'event', id: undefined, opened: false });
  });
});

describe('the entries of Arrivals', () => {
  const entries = VIEW_GROUPS.flatMap((g) => g.entries.map((e) => e.id));
  it('are each there once, at most four in a group', () => {
    expect(new Set(entries).size).toBe(entries.length);
    for (const g of VIEW_GROUPS) expect(g.entries.length).toBeLessThanOrEqual(4);
  });
  it('are read from the address; all else is the findings', () => {
    expect(entries.map((id) => arrivalsPlace(places.arrivals(id)[1]).view)).toEqual(entries);
    expect(arrivalsPlace(undefined)).toEqual({ view: 'findings', finding: undefined, rest: [] });
    expect(arrivalsPlace('nothing-like-it').view).toBe('findings');
    expect(arrivalsPlace(places.finding('["wrong-type","E: x"]')[1])).toEqual({
      view: 'findings',
      finding: '["wrong-type","E: x"]',
      rest: [],
    });
    expect(arrivalsPlace(places.volume('Tool: Viewed', '')[1])).toEqual({ view: 'volume', finding: undefined, rest: ['Tool: Viewed', ''] });
  });
});
