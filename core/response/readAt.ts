import { fail, ok, type Result } from '../problem';
import { parseQuantity } from '../quantity';
import { valueAt, type BodeCurve } from './margins';

/** Frequencies that are read at one time at most */
const MOST = 40;

/** Frequencies as they are typed, "1k, 2.5 kHz, 10k": Hz. @returns problem of the first that is none, "size" beyond forty */
export function readFrequencies(text: string): Result<number[]> {
  const parts = text.split(/[,;\n]+/).map((p) => p.trim()).filter((p) => p !== '');
  if (parts.length > MOST) return fail('size', 'frequencies', `${parts.length} frequencies are more than are read at a time`, `give ${MOST} or fewer, or save the whole curve`);
  const list: number[] = [];
  for (const part of parts) {
    const f = parseQuantity(part, 'Hz', 'frequencies');
    if (!f.ok) return f;
    if (!(f.value > 0)) return fail('range', 'frequencies', `"${part}" is no frequency above zero`, 'write them like 1k, 10k');
    list.push(f.value);
  }
  return ok(list);
}

/** A curve at stated frequencies: dB and degrees, straight between its points over the logarithm of the frequency; nothing outside of them. */
export const curveAt = (curve: BodeCurve, frequencies: readonly number[]): { frequency: number; gain?: number; phase?: number }[] =>
  frequencies.map((frequency) => {
    const [gain, phase] = [valueAt(curve, 'gain', frequency), valueAt(curve, 'phase', frequency)];
    return gain === undefined || phase === undefined ? { frequency } : { frequency, gain, phase };
  });
