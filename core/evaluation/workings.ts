import { amplifierNamed } from '../control';
import { printQuantity as print } from '../quantity';
import type { Working } from '../working';
import type { Figures, LoopFigures } from './figures';
import { placementPoint } from './compensator';
import type { Design } from '../design/schema';

/** Workings of the loop's and the cycle's figures: where each comes from and what it leaves out. */
export function loopWorkings(d: Design, f: Figures): Record<string, Working> {
  const { loop, cycle, losses } = f;
  return {
    'cycle/duty': {
      title: 'duty of the settled cycle',
      formula: 'x(T; x₀, D) = x₀  and  mean of Vout = wanted',
      numbers: `closes to ${cycle.closure.toExponential(1)}; junctions and windings at their own temperatures`,
      value: cycle.duty,
      unit: '%',
      source: 'Newton on the exact period map (Aprille, Trick 1972)',
      leavesOut: 'dead time and edges: the switches change over at once',
    },
    'losses/efficiency': {
      title: 'efficiency',
      formula: 'η = Pout / (Pout + Σ losses)',
      numbers: `${print(losses.output, 'W', 4)} / (${print(losses.output, 'W', 4)} + ${print(losses.total, 'W')})`,
      value: losses.efficiency,
      unit: '%',
      source: 'sum of all mechanisms at their temperatures',
      leavesOut: [...(losses.parts.some((p) => 'copper' in p.mechanisms && !('copper-ac' in p.mechanisms)) ? ['ac resistance of windings that do not say how they are wound'] : []), ...(d.drive.supplyPower === undefined ? ['supply of the control'] : []), 'wiring of the output'].join('; '),
    },
    ...(d.drive.supplyPower ? { 'control/supply': { title: 'supply of the control', formula: 'P', numbers: 'as stated', value: d.drive.supplyPower, unit: 'W' as const, source: 'your value', leavesOut: 'what it takes more at another line' } } : {}),
    ...(loop ? ofLoop(d, f.point.load, loop) : {}),
  };
}

function ofLoop(d: Design, load: number, loop: LoopFigures): Record<string, Working> {
  const at = placementPoint(d);
  const left = 'gain and bandwidth of the amplifier; dead time';
  return {
    'loop/crossover': {
      title: 'crossover',
      formula: '|L(fc)| = 1,  L = −v(arrives) / v(goes on) at a source in series with what is fed back',
      numbers: `ramp ${print(d.control.ramp, 'V')}, delay ${print(d.control.delay, 's')}`,
      value: loop.crossover,
      unit: 'Hz',
      source: 'exact small-signal response of the settled closed circuit, no averaging (Middlebrook 1975 for the injection)',
      leavesOut: left,
    },
    'loop/phaseMargin': {
      title: 'phase margin',
      formula: 'φm = 180° + arg L(fc)',
      numbers: `at ${print(loop.crossover, 'Hz')}`,
      value: loop.phaseMargin,
      unit: '°',
      source: 'Erickson, Maksimović: Fundamentals of Power Electronics, ch. 9',
      leavesOut: left,
    },
    'loop/gainMargin': {
      title: 'gain margin',
      formula: 'gm = −20 log |L(fπ)|  where arg L = −180°',
      numbers: Number.isFinite(loop.phaseCrossover) ? `at ${print(loop.phaseCrossover, 'Hz')}` : 'the phase does not reach −180° below the switching frequency',
      value: loop.gainMargin,
      unit: 'dB',
      source: 'Erickson, Maksimović: Fundamentals of Power Electronics, ch. 9',
      leavesOut: left,
    },
    'loop/deviation': {
      title: 'deviation after the load step',
      formula: 'largest |v(t)| less what stands there in the settled cycle',
      numbers: `${print(d.brief.loadStep, 'A')} at ${print(load, 'A')}`,
      value: loop.deviation,
      unit: 'V',
      source: 'the closed circuit itself: its linearised period map where that holds for the step, else run in time',
      leavesOut: 'limits of the amplifier’s output; a maximum of the duty',
    },
    'loop/placement': {
      title: 'placement of the compensator',
      numbers: `${print(d.control.crossover, 'Hz')} and ${print(d.control.phaseMargin, '°')} at ${print(at.line, 'V')}, ${print(at.load, 'A')}`,
      value: loop.placed.integrator!,
      unit: 'Hz',
      ...amplifierNamed(d.control.amplifier)!.placement,
    },
  };
}
