/** A place between 0 and 1 that belongs to a text: those of many texts lie evenly, and the same text has the same place on every device.
 *  Source: FNV-1a of 32 bits, its bits mixed by the last steps of MurmurHash3; the numbers of both are from memory.
 */
export const placeOf = (text: string): number => {
  let h = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) h = Math.imul(h ^ text.charCodeAt(i), 0x01000193);
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return ((h ^ (h >>> 16)) >>> 0) / 2 ** 32;
};
