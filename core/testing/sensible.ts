import fc from 'fast-check';
import type { Asked } from '../proposal/usual';
import { usualFrequency } from '../proposal/usual';

/** Briefs as engineers of this trade get them: 3 to 400 V in or the mains, 1 to 800 V out, 1 W to 20 kW, 20 kHz to 2 MHz. Drawn by a seed. */

// Doubles are drawn by their bits, most of them near zero: evenly wants integers.
const STEPS = 1 << 24;
const even = (min: number, max: number): fc.Arbitrary<number> => fc.integer({ min: 0, max: STEPS }).map((k) => min + ((max - min) * k) / STEPS);
const logarithmic = (min: number, max: number): fc.Arbitrary<number> => even(Math.log(min), Math.log(max)).map(Math.exp);
const two = (v: number): number => Number(v.toPrecision(2));

/** A: more than that is made of several converters side by side. */
const MOST_AMPS = 100;
/** W: several outputs are made by small converters. */
const MOST_TWICE = 60;

const dc = fc
  .record({ line: logarithmic(3, 400), spread: logarithmic(1.05, 2), ratio: logarithmic(0.03, 8), watts: logarithmic(1, 2e4), light: even(0.05, 0.3), isolated: fc.integer({ min: 0, max: 4 }), second: fc.integer({ min: 0, max: 9 }), frequency: fc.option(logarithmic(0.4, 2.5)) })
  .map(({ line, spread, ratio, watts, light, isolated, second, frequency }): Asked => {
    const output = two(Math.min(800, Math.max(1, line * ratio)));
    const [min, max] = [two(line / Math.sqrt(spread)), two(line * Math.sqrt(spread))];
    const twice = second === 0 && output >= 3;
    const amps = two(Math.min((twice ? Math.min(watts, MOST_TWICE) : watts) / output, MOST_AMPS, (MOST_AMPS * min) / output));
    return {
      line: { min, max: Math.max(max, min * 1.02) }, output, load: { min: two(amps * light), max: amps },
      ...(isolated === 0 || twice ? { isolated: true } : {}),
      ...(twice ? { further: [{ voltage: two(output * 1.5), load: { min: two((amps * light) / 4), max: two(amps / 4) } }] } : {}),
      ...(frequency === null ? {} : { frequency: two(Math.min(2e6, Math.max(2e4, usualFrequency(amps * output, Math.max(max, output)) * frequency))) }),
    };
  });

const mains = fc
  .record({ low: fc.constantFrom([195, 265], [90, 132], [207, 253]), watts: logarithmic(50, 3000), light: even(0.1, 0.3), hertz: fc.constantFrom(50, 60) })
  .map(({ low: [min, max], watts, light, hertz }): Asked => {
    const output = max! > 200 ? 400 : 220;
    const amps = two(watts / output);
    return { line: { min: min!, max: max!, mains: hertz }, output, load: { min: two(amps * light), max: amps } };
  });

/** So many of them; one in eight on the mains. */
export const sensibleBriefs = (count: number, seed: number): Asked[] => fc.sample(fc.noBias(fc.oneof({ weight: 7, arbitrary: dc }, { weight: 1, arbitrary: mains })), { numRuns: count, seed });
