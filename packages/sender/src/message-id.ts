/** IDs of messages: unique, and in the order in which they were made. */

let lastMs = 0;
let counter = 0;

/** A UUID of version 7: what is made later in this process sorts later, within a millisecond too.
 *  Shape: `now` UTC epoch ms; the 12 bits behind the time count up within a millisecond.
 *  Source: RFC 9562, section 5.7, and method 1 of section 6.2.
 */
export const messageId = (now: number): string => {
  if (now > lastMs) {
    lastMs = now;
    counter = 0;
  } else if (++counter > 0xfff) {
    lastMs++;
    counter = 0;
  }
  const random = crypto.getRandomValues(new Uint8Array(8));
  random[0] = (random[0]! & 0x3f) | 0x80;
  const tail = Array.from(random, (b) => b.toString(16).padStart(2, '0')).join('');
  const time = lastMs.toString(16).padStart(12, '0');
  return `${time.slice(0, 8)}-${time.slice(8)}-7${counter.toString(16).padStart(3, '0')}-${tail.slice(0, 4)}-${tail.slice(4)}`;
};
