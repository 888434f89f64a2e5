/** Bytes as PostgreSQL reads them in binary: rows of COPY, in one growing piece of memory.
 *  Source: PostgreSQL documentation, COPY, "Binary Format".
 */
const FIRST_BYTES = 1 << 16;
const EPOCH_2000_MS = Date.UTC(2000, 0, 1);
const TWO_32 = 2 ** 32;
/** Longer texts are encoded by the platform, which costs a call. */
const SHORT = 64;

export class BinaryWriter {
  private bytes: Buffer = Buffer.allocUnsafe(FIRST_BYTES);
  private view = new DataView(this.bytes.buffer, this.bytes.byteOffset, this.bytes.byteLength);
  length = 0;

  private room(more: number): void {
    if (this.length + more <= this.bytes.length) return;
    const larger = Buffer.allocUnsafe(Math.max(this.bytes.length * 2, this.length + more));
    this.bytes.copy(larger, 0, 0, this.length);
    this.bytes = larger;
    this.view = new DataView(larger.buffer, larger.byteOffset, larger.byteLength);
  }

  /** A number of 16 bits as it is, such as the count of fields. */
  int16(n: number): void {
    this.room(2);
    this.view.setInt16(this.length, n);
    this.length += 2;
  }

  /** A number of 32 bits as it is, such as a length. */
  int32(n: number): void {
    this.room(4);
    this.view.setInt32(this.length, n);
    this.length += 4;
  }

  private put64(at: number, n: number): void {
    const high = Math.floor(n / TWO_32);
    this.view.setInt32(at, high);
    this.view.setUint32(at + 4, n - high * TWO_32);
  }

  /** A field: a whole number of 32 bits. */
  integer(n: number): void {
    this.int32(4);
    this.int32(n);
  }

  /** A field: a whole number of 64 bits, within the safe integers. */
  bigint(n: number): void {
    this.int32(8);
    this.room(8);
    this.put64(this.length, n);
    this.length += 8;
  }

  /** A field: an instant, UTC epoch ms. */
  instant(ms: number): void {
    this.int32(8);
    this.room(8);
    const sinceMs = Math.trunc(ms) - EPOCH_2000_MS;
    const micros = sinceMs * 1000;
    if (Number.isSafeInteger(micros)) this.put64(this.length, micros);
    else this.view.setBigInt64(this.length, BigInt(sinceMs) * 1000n);
    this.length += 8;
  }

  /** A field: text, written as UTF-8. */
  text(s: string): void {
    this.room(4 + s.length * 3);
    const { bytes } = this;
    const start = this.length + 4;
    let at = start;
    let i = 0;
    if (s.length <= SHORT)
      for (; i < s.length; i++) {
        const c = s.charCodeAt(i);
        if (c > 127) break;
        bytes[at++] = c;
      }
    if (i < s.length) at = start + bytes.write(s, start, 'utf8');
    this.view.setInt32(this.length, at - start);
    this.length = at;
  }

  /** A field: bytes as they are, such as JSON text. */
  raw(b: Uint8Array): void {
    this.int32(b.length);
    this.room(b.length);
    this.bytes.set(b, this.length);
    this.length += b.length;
  }

  /** Writes once more what was written before, from one place up to another. */
  again(from: number, to: number): void {
    this.room(to - from);
    this.bytes.copyWithin(this.length, from, to);
    this.length += to - from;
  }

  /** Writes a whole number of 64 bits over eight bytes that were written before. */
  patch64(at: number, n: number): void {
    this.put64(at, n);
  }

  /** The bytes from one place up to another; they are where they were written, so write nothing while they are in use. */
  slice(from = 0, to = this.length): Buffer {
    return this.bytes.subarray(from, to);
  }
}

const SIGNATURE = Buffer.from('PGCOPY\n\xff\r\n\0\0\0\0\0\0\0\0\0', 'latin1');
const TRAILER = Buffer.from([0xff, 0xff]);

/** What a binary COPY is around its rows. */
export const copyOf = (rows: readonly Buffer[]): Buffer[] => [SIGNATURE, ...rows, TRAILER];
