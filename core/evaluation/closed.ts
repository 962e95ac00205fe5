import type { Circuit } from '../circuit/elements';
import { buildMachine, type Machine, type State } from '../circuit/machine';
import { COMMAND } from '../control/command';
import { standing, type Controller } from '../control/controller';
import { carryOver } from '../orbit/carry';
import { settleCycle, type SettledCycle } from '../orbit/settle';
import { ok, type Problem, type Result } from '../problem';
import { printQuantity as print } from '../quantity';
import { LINE } from '../surroundings/line';
import { closed, INNER_REFERENCE, namesOf, type Loops, type SensedBy } from './assemble';
import type { SettledStage } from './settleStage';

/** A stage with its loops closed, settled from where the open one stands. */
export interface ClosedStage {
  circuit: Circuit;
  machine: Machine;
  cycle: SettledCycle;
}

/** Close loops around a settled stage, and settle it again from where it stands. */
export function closeStage(stage: SettledStage, loops: Loops): Result<ClosedStage> {
  const circuit = closed(stage.assembled, loops);
  const machine = buildMachine(circuit);
  if (!machine.ok) return machine;
  const cycle = settleCycle(machine.value, { near: beginning(stage, machine.value, loops), ...(stage.cycle.free ? { period: stage.cycle.period } : {}) });
  return cycle.ok ? ok({ circuit, machine: machine.value, cycle: cycle.value }) : cycle;
}

/** V, mean of what a loop feeds back, where the open stage has it. */
export const meanOf = (stage: SettledStage, sensed: SensedBy): number => (sensed === 'output' ? stage.measure({ output: 0 }).mean : sensed.ohms * stage.measure({ current: sensed.current }).mean);

/** V that each loop's controller has to put out, inner first: the modulator's command, and what the next inner one is to be at. */
const outputsOf = (stage: SettledStage, { loops, ramp, forward }: Loops): number[] => loops.map((_, k) => (k === 0 ? stage.setting * ramp - (forward ? forward.level - forward.perVolt * stage.measure({ voltage: [LINE] }).mean : 0) : meanOf(stage, loops[k - 1]!.sensed)));

/** Why a controller can not put out what it has to: problem "clips"; undefined where all can. */
export function clipped(stage: SettledStage, loops: Loops): Problem | undefined {
  for (const [k, out] of outputsOf(stage, loops).entries()) {
    const { controller } = loops.loops[k]!;
    const { low = -Infinity, high = Infinity } = (controller.kind === 'continuous' ? controller.clips : controller) ?? {};
    if (out >= low && out <= high) continue;
    const [where, at] = out < low ? ['control.clipsLow', low] : ['control.clipsHigh', high];
    return { code: 'clips', where, message: `its ${controller.kind === 'continuous' ? 'amplifier' : 'controller'} would have to put out ${print(out, 'V')}, and ${controller.kind === 'continuous' ? 'clips' : 'ends'} at ${print(at, 'V')}`, remedy: out < low ? 'let it go lower, or raise the ramp' : 'let it go higher, or lower the ramp' };
  }
  return undefined;
}

/** Let a controller stand where it puts out so many volts, at a node. */
export function putOut(m: Machine, state: State, controller: Controller, id: string, output: number, node = COMMAND): void {
  for (const [name, value] of Object.entries(standing(controller, id, output))) {
    const column = m.layout.column.get(name)!;
    // A block's first state is not its output: that is so many times as large.
    const perState = controller.kind === 'continuous' ? m.prepare(state.segments).voltage(node)[column]! : 1;
    state.z[column] = value / perState;
  }
}

/** Near the closed cycle: the stage as it is, and each controller where what it sets has to stand. */
function beginning(stage: SettledStage, m: Machine, all: Loops): State {
  const { loops } = all;
  const outputs = outputsOf(stage, all);
  const state = carryOver(stage.machine, m, stage.cycle.state);
  loops.forEach(({ controller }, k) => putOut(m, state, controller, namesOf(k === loops.length - 1).controller, outputs[k]!, k === 0 ? COMMAND : INNER_REFERENCE));
  return state;
}
