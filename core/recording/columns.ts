/** Columns of numbers that grow a line at a time: entry k of column i stands at i·most + k of their room, which the next who needs some goes on with. */
export interface Columns {
  width: number;
  length: number;
  /** Lines that there is room for */
  most: number;
  room: Float64Array;
}

export const columnsIn = (room: Float64Array, width: number): Columns => ({ width, length: 0, most: Math.floor(room.length / width), room });

/** Room for one more line at least. */
export function grow(c: Columns): void {
  const most = Math.max(LINES, 2 * c.most);
  const room = new Float64Array(c.width * most);
  for (let i = 0; i < c.width; i++) room.set(c.room.subarray(i * c.most, i * c.most + c.length), i * most);
  [c.room, c.most] = [room, most];
}

/** Lines that there is room for at first */
const LINES = 2048;
/** Room for nothing yet */
export const NONE = new Float64Array(0);

/** What the columns hold, each for itself, all in one buffer. */
export function columnsOf({ width, length, most, room }: Columns): Float64Array[] {
  const all = new Float64Array(width * length);
  return Array.from({ length: width }, (_, i) => {
    all.set(room.subarray(i * most, i * most + length), i * length);
    return all.subarray(i * length, (i + 1) * length);
  });
}
