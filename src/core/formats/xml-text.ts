/** Text within XML and HTML. */

/** Text of an XML document, or of HTML: no character in it is markup, and none is forbidden there. Source: XML 1.0, 2.2 and 2.4. */
export const xmlText = (s: string): string =>
  s
    .toWellFormed()
    // eslint-disable-next-line no-control-regex -- these are what XML does not allow
    .replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g, '\ufffd')
    .replaceAll('&', '&amp;')
    .replaceAll('<', '&lt;')
    .replaceAll('>', '&gt;')
    .replaceAll('"', '&quot;');
