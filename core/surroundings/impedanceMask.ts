import { fail, ok, type Result } from '../problem';
import { parseQuantity, printTyped } from '../quantity';
import type { Brief } from './brief';

export type ImpedanceMask = NonNullable<Brief['impedanceMask']>;

const PATH = 'brief.impedanceMask';
const EXAMPLE = 'write it like 100 Hz 20 mΩ, 10 kHz 20 mΩ, 100 kHz 150 mΩ';

/** A mask as it is typed: pairs of frequency and impedance. */
export const printMask = (mask: ImpedanceMask, digits?: number): string => mask.map(([f, z]) => `${printTyped(f, 'Hz', digits)} ${printTyped(z, 'Ω', digits)}`).join(', ');

/**
 * Read a mask of pairs, "100 Hz 20 mΩ, 10 kHz 20 mΩ": Hz and Ω each.
 * @returns it; problem "mask" where a pair is none, and those of its quantities, each with the pair's number
 */
export function readMask(text: string): Result<ImpedanceMask> {
  const pairs = text.split(/[,;\n]+/).map((p) => p.trim()).filter((p) => p !== '');
  if (pairs.length < 2) return fail('mask', PATH, 'a mask is two points or more, each a frequency and an impedance', EXAMPLE);
  const mask: ImpedanceMask = [];
  for (const [k, pair] of pairs.entries()) {
    // Where the unit of the first ends, or at the space between two numbers.
    const [, f, z] = /^(\S+\s*(?:[kM]?Hz)?|\S+)\s+(?:at\s+)?(\S.*)$/i.exec(pair) ?? [];
    if (f === undefined || z === undefined) return fail('mask', PATH, `point ${k + 1}, "${pair}", is no frequency and impedance`, EXAMPLE);
    const [hertz, ohms] = [parseQuantity(f, 'Hz', PATH), parseQuantity(z, 'Ω', PATH)];
    for (const read of [hertz, ohms]) if (!read.ok) return fail('mask', PATH, `point ${k + 1}: ${read.problem.message}`, read.problem.remedy);
    if (hertz.ok && ohms.ok) mask.push([hertz.value, ohms.value]);
  }
  return ok(mask);
}
