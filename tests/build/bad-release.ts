/** A release that begins to send searches with something wrong in them, as the intake takes them: one a second, back from now. */
export const badSearches = (count: number, properties: Readonly<Record<string, unknown>>, prefix = 'bad') =>
  Array.from({ length: count }, (_, i) => ({
    id: `${prefix}-${i}`,
    name: 'Catalogue Searched',
    time: new Date(Date.now() - i * 1000).toISOString(),
    ids: { anonymous: `${prefix}-visitor-${i}` },
    release: '8.2.1',
    page: '/catalogue',
    properties,
  }));
