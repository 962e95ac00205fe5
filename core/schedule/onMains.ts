import { buildMachine, restState, type Machine, type State } from '../circuit/machine';
import { forFigures } from '../design/difference';
import type { Design } from '../design/schema';
import { closed, namesOf, type Assembled } from '../evaluation/assemble';
import { putOut } from '../evaluation/closed';
import type { ClosedDesign } from '../evaluation/closedDesign';
import { conductanceOf, mainsBeside, VOLTAGE_LOOP, wholeOf, type OnWhole } from '../evaluation/mainsWhole';
import { DEFAULT_TOLERANCE } from '../linear/tolerance';
import { carrySettled } from '../orbit/carry';
import { march } from '../orbit/march';
import { rebase } from '../orbit/newton';
import { settleCycle, type SettledCycle } from '../orbit/settle';
import { fail, ok, type Result } from '../problem';
import { recent } from '../recent';
import type { OperatingPoint } from '../topology';

/** A design on the mains as the whole that a run goes through, and its settled cycle, which is one of the mains. */
export interface WholeMains {
  /** As it is while the line does that: s, V rms */
  with(changes: OnWhole['changes']): Assembled;
  /** s of the mains */
  period: number;
  /** The one whose line stands, and its cycle: found when it is asked for */
  settled(): Result<{ machine: Machine; cycle: SettledCycle }>;
}

/** Settled cycles of the mains take a second or two: those looked at of late are kept. */
const cycles = recent<string, Result<{ machine: Machine; cycle: SettledCycle }>>(6);

/** The last cycle of each choice of states: where the next one is looked for first. */
const neighbours = new Map<string, { machine: Machine; cycle: SettledCycle }>();
const NEIGHBOURS = 3;

/** Look for the next ones from rest: for what measures how long that takes. */
export const forgetMains = (): void => neighbours.clear();

/** A cycle of thousands of periods: Newton's last step is a billionth, and what is left far below that */
const SETTLED = { ...DEFAULT_TOLERANCE, relative: 1e-9 };
/** Runs towards a settled cycle, and cycles of the mains of each */
const [RUNS, CYCLES] = [3, 10];
/** Events of such a run at most: what has no clock has no turns to count them by */
const MOST_EVENTS = 2_000_000;
/** Switching periods of a cycle that settles in the usual work, and ns of an ordinary machine for it, at most and at most of all */
const [USUAL, WORK, MOST_WORK] = [1400, 12e9, 30e9];

/** The whole of a design closed at a point on the mains. */
export function wholeMains(d: Design, point: OperatingPoint, { bill, stage, loops }: ClosedDesign): WholeMains {
  const { assembled, resistance } = stage;
  const { sensed } = loops.loops.at(-1)!;
  const on = { line: point.line, mains: mainsBeside(d.brief.line.mains!, d.brief.frequency), ohms: sensed === 'output' ? 1 : sensed.ohms, reference: d.control.reference, resistance, ...(loops.forward ? { forward: loops.forward } : {}) };
  return {
    period: 1 / on.mains,
    with: (changes) => wholeOf(assembled, bill, { ...on, ...(changes ? { changes } : {}) }),
    settled: () => cycles(`${forFigures(d)} ${point.line} ${point.load} ${point.air}`, () => {
      const machine = buildMachine(closed(wholeOf(assembled, bill, on), loops));
      if (!machine.ok) return machine;
      const near = restState(machine.value);
      const { column } = machine.value.layout;
      near.z[column.get(assembled.roles.mains!.reservoir)!] = d.brief.output.voltage;
      // Where a command is held, what holds it stands where it was by the angles.
      const whole = column.get(`held ${VOLTAGE_LOOP}.whole`);
      if (whole !== undefined) near.z[whole] = conductanceOf(d.brief.output.voltage, point.load, point.line);
      else putOut(machine.value, near, loops.loops.at(-1)!.controller, namesOf(true).controller, stage.setting * loops.ramp);
      // As many more switching periods as a cycle has, as much more work it is.
      const most = Math.min(MOST_WORK, WORK * Math.max(1, d.brief.frequency / on.mains / USUAL));
      const settle = (near: State): Result<SettledCycle> => settleCycle(machine.value, { near, period: 1 / on.mains, most, tolerance: SETTLED });
      // From where a neighbour stood, if it has the same states; else from rest with what is slow where it is expected.
      const columns = [...machine.value.layout.column.keys()].join();
      const beside = neighbours.get(columns);
      let found = beside ? settle(carrySettled(beside, machine.value)) : settle(near);
      if (beside && !found.ok) found = settle(near);
      // Of a current that does not follow, so that switches rest and end where they may, Newton finds the cycle only from nearby: a run goes there.
      let state = near;
      // Where it was too much work, a run to near it is more of that.
      if (!found.ok && found.problem.code === 'work') return assembled.drive.free ? fail('work', 'control.minimumOff', `its switch changes so often over a cycle of the mains that this is not solved in good time (${found.problem.message.replace(/^.*: /, '')})`, 'give it a longer least time off, or more inductance: its frequency follows the line, and is that of the brief only where it is lowest') : found;
      for (let k = 0; !found.ok && k < RUNS; k++) {
        const there = march(machine.value, state, state.t + CYCLES / on.mains, { events: MOST_EVENTS });
        if (!there.ok) return there;
        state = rebase(machine.value, there.value, CYCLES / on.mains);
        found = settle(state);
      }
      if (!found.ok) return found;
      const settled = { machine: machine.value, cycle: found.value };
      neighbours.delete(columns);
      neighbours.set(columns, settled);
      if (neighbours.size > NEIGHBOURS) neighbours.delete(neighbours.keys().next().value!);
      return ok(settled);
    }),
  };
}
