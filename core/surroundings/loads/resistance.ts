import type { Load } from './types';

/** A resistance, with an inductance of its own in series where the brief gives one: a winding, a magnet. */
export const resistance: Load = {
  id: 'resistance',
  title: 'resistance',
  put(f, id, [a, b], { volts, amps }, { loadInductance }) {
    // Where the power stage smooths its current by it, it is in there already.
    if (loadInductance === undefined || f.isSmoothedByLoad()) return f.resistor(id, a, b, volts / amps);
    f.put({ kind: 'inductor', id: `${id} inductance`, a, b: `${id} wound`, inductance: loadInductance });
    f.resistor(id, `${id} wound`, b, volts / amps);
  },
};
