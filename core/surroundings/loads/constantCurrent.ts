import { onlyResistive } from './onlyResistive';
import type { Load } from './types';

/** Share of the output voltage below which it is a resistance: no load draws a current from nothing */
const LOWEST = 0.1;

/** A constant current, whatever the voltage: a converter behind this one that is a current source, a linear regulator. */
export const constantCurrent: Load = {
  id: 'constant-current',
  title: 'constant current',
  refuses: onlyResistive,
  put: (f, id, [a, b], { volts, amps }) => f.put({ kind: 'current-load', id, a, b, current: amps, lowest: LOWEST * volts }),
};
