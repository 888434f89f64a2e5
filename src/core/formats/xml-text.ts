/** Text within XML and HTML. */

/** Text without what no XML document may hold. Source: XML 1.0, 2.2. */
export const xmlAllowed = (s: string): string =>
  // eslint-disable-next-line no-control-regex -- these are what XML does not allow
  s.toWellFormed().replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g, '\ufffd');

/** Text of an XML document, or of HTML: no character in it is markup, and none is forbidden there. Source: XML 1.0, 2.2 and 2.4. */
export const xmlText = (s: string): string =>
  xmlAllowed(s).replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;').replaceAll('"', '&quot;');
