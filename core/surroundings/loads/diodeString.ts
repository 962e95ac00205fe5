import { printQuantity as print } from '../../quantity';
import { onlyResistive } from './onlyResistive';
import type { Load } from './types';

/** Share of the output voltage that the threshold of a string begins with */
const USUAL = 0.85;
/** S of a string that does not conduct: a microampere at a hundred volts */
const OFF = 1e-8;

/** A string of diodes, lamps for one: nothing below its threshold, above it a resistance far below V/I. */
export const diodeString: Load = {
  id: 'diode-string',
  title: 'diode string',
  asks: { loadThreshold: ({ output }) => Number((USUAL * output.voltage).toPrecision(2)) },
  refuses(brief) {
    const { loadThreshold: threshold, output } = brief;
    if (threshold === undefined) return { code: 'missing', where: 'brief.loadThreshold', message: 'a string of diodes has a threshold', remedy: `give it, in volts below the output: ${print(USUAL * output.voltage, 'V', 2)} for one` };
    if (!(threshold < output.voltage)) return { code: 'range', where: 'brief.loadThreshold', message: `a threshold of ${print(threshold, 'V')} is not below the output: nothing would flow`, remedy: `choose less than ${print(output.voltage, 'V')}` };
    return onlyResistive(brief);
  },
  put: (f, id, [a, b], { volts, amps }, { loadThreshold }) => f.put({ kind: 'string-load', id, a, b, threshold: loadThreshold!, slope: (volts - loadThreshold!) / amps, offConductance: OFF }),
};
