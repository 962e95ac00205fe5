import { onlyResistive } from './onlyResistive';
import type { Load } from './types';

/** Share of the output voltage below which it is a resistance: a regulated converter gives up there */
const LOWEST = 0.5;
/** Share to which the slope of its tangents is that of P/v; twice as good, and three times as many bends are crossed by the ripple */
const ACCURACY = 0.01;

/** A constant power: a regulated converter behind this one. To small signals a negative resistance, −V/I. */
export const constantPower: Load = {
  id: 'constant-power',
  title: 'constant power',
  refuses: onlyResistive,
  put: (f, id, [a, b], { volts, amps }) => f.put({ kind: 'power-load', id, a, b, power: volts * amps, lowest: LOWEST * volts, accuracy: ACCURACY }),
};
