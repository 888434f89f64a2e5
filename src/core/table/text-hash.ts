/** A short name for a text: equal texts have equal ones, and two that differ practically never. */

/** 106 bits as hexadecimal digits. Source: cyrb53 (public domain, bryc), two lanes of multiply and xorshift, with two seeds. */
export const textHash = (text: string): string => lanes(text, 0) + lanes(text, 0x9e3779b9);

const lanes = (text: string, seed: number): string => {
  let a = 0xdeadbeef ^ seed;
  let b = 0x41c6ce57 ^ seed;
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    a = Math.imul(a ^ c, 2654435761);
    b = Math.imul(b ^ c, 1597334677);
  }
  a = Math.imul(a ^ (a >>> 16), 2246822507) ^ Math.imul(b ^ (b >>> 13), 3266489909);
  b = Math.imul(b ^ (b >>> 16), 2246822507) ^ Math.imul(a ^ (a >>> 13), 3266489909);
  return ((b >>> 0) % 0x200000).toString(16) + (a >>> 0).toString(16).padStart(8, '0');
};
