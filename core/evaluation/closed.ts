import type { Circuit } from '../circuit/elements';
import { buildMachine, type Machine, type State } from '../circuit/machine';
import { COMMAND } from '../control/command';
import { carryOver } from '../orbit/carry';
import { settleCycle, type SettledCycle } from '../orbit/settle';
import { ok, type Result } from '../problem';
import { closed, COMPENSATOR, type Loop } from './assemble';
import type { SettledStage } from './settleStage';

/** A stage with its loop closed, settled from where the open one stands. */
export interface ClosedStage {
  circuit: Circuit;
  machine: Machine;
  cycle: SettledCycle;
}

/** Close the loop around a settled stage, and settle it again from where it stands. */
export function closeStage(stage: SettledStage, loop: Loop): Result<ClosedStage> {
  const circuit = closed(stage.assembled, loop);
  const machine = buildMachine(circuit);
  if (!machine.ok) return machine;
  const cycle = settleCycle(machine.value, { near: beginning(stage, machine.value, loop.ramp) });
  return cycle.ok ? ok({ circuit, machine: machine.value, cycle: cycle.value }) : cycle;
}

/** Near the closed cycle: the stage as it is, and the integrator where the command wants it. */
function beginning(stage: SettledStage, m: Machine, ramp: number): State {
  const state = carryOver(stage.machine, m, stage.cycle.state);
  const column = m.layout.column.get(`${COMPENSATOR}.0`)!;
  const perState = m.prepare(state.segments).voltage(COMMAND)[column]!;
  state.z[column] = (stage.setting * ramp) / perState;
  return state;
}
