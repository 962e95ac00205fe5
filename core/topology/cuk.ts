import { handOverDrawing } from './handOver';
import { twoInductors } from './twoInductors';

/** Ćuk converter: a negative output, with an inductor towards the line and one towards the output, so both see ramps and no pulses. */
export const cuk = twoInductors({
  id: 'cuk',
  title: 'Ćuk, inverting',
  feeds: 'always',
  across: (line, out) => line + out,
  wiring: { D1: ['x', '0'], L2: ['out', 'x'], output: ['0', 'out'] },
  purposes: { D1: 'carries both inductor currents while Q1 is off', L2: 'feeds the output all the time', C2: 'takes the ripple and the first of a load step' },
  drawing: handOverDrawing({ id: 'D1', symbol: 'diode', turn: 2 }, { id: 'L2', symbol: 'inductor', turn: 1 }),
});
