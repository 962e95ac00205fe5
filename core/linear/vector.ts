/**
 * Room for the small vectors and matrices that a run makes in every interval. A typed array with a buffer of its own takes a
 * microsecond to make and is cleared away one by one; a view of a buffer that many have in common takes a tenth of that.
 */

/** Numbers that a buffer holds: few enough that one which is kept for long does not hold on to much. */
const SLAB = 1024;
/** What is larger than that has a buffer of its own */
const SMALL = 256;

let slab = new ArrayBuffer(8 * SLAB);
let used = 0;

/** n zeros. */
export function vector(n: number): Float64Array {
  if (n > SMALL) return new Float64Array(n);
  if (used + n > SLAB) {
    slab = new ArrayBuffer(8 * SLAB);
    used = 0;
  }
  const found = new Float64Array(slab, 8 * used, n);
  used += n;
  return found;
}

/** The same numbers once more. */
export function copyOf(v: Float64Array): Float64Array {
  const found = vector(v.length);
  for (let i = 0; i < v.length; i++) found[i] = v[i]!;
  return found;
}
