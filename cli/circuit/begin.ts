import { restState, type Machine, type State } from '../../core/circuit/machine';
import { readState } from '../../core/interchange/stateFile';
import { settleCycle, type SettledCycle } from '../../core/orbit/settle';
import { fileText, must, type Options } from './say';

/** The settled cycle, looked for from rest or from the state of a file. */
export function cycleFrom(machine: Machine, o: Options): SettledCycle {
  const near = o.begin === undefined || o.begin === 'rest' || o.begin === 'settled' ? undefined : must(readState(machine, fileText(o.begin)));
  return must(settleCycle(machine, near ? { near } : {}));
}

/** Where a run begins: at rest, settled, or in the state of a file. */
export function beginning(machine: Machine, where: string): State {
  if (where === 'rest') return restState(machine);
  if (where === 'settled') return must(settleCycle(machine)).state;
  return must(readState(machine, fileText(where)));
}
