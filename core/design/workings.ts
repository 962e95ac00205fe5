import { printQuantity as print } from '../quantity';
import type { Working } from '../working';
import type { Figures } from './figures';
import { placementPoint } from './loop';
import type { Design } from './schema';

/** Workings of the loop's and the cycle's figures: where each comes from and what it leaves out. */
export function loopWorkings(d: Design, f: Figures): Record<string, Working> {
  const { loop, cycle, losses } = f;
  const at = placementPoint(d);
  const left = 'ripple that comes back through the compensator to the modulator';
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
    'loop/crossover': {
      title: 'crossover',
      formula: '|C · e^(−s t) / Vramp · Gvd| = 1',
      numbers: `ramp ${print(d.control.ramp, 'V')}, delay ${print(d.control.delay, 's')}`,
      value: loop.crossover,
      unit: 'Hz',
      source: 'exact small-signal response of the settled cycle, no averaging',
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
      formula: 'largest |v(t)| of Zout / (1 + L) to a step of the load current',
      numbers: `${print(d.brief.loadStep, 'A')} at ${print(f.point.load, 'A')}`,
      value: loop.deviation,
      unit: 'V',
      source: 'exact step response of the closed averaged loop',
      leavesOut: 'ripple; limits of the duty in a large step',
    },
    'loop/placement': {
      title: 'placement of the compensator',
      formula: 'boost = φm − arg P(fc) − 90°,  K = tan²(boost/4 + 45°),  zeros at fc/√K, poles at fc·√K',
      numbers: `${print(d.control.crossover, 'Hz')} and ${print(d.control.phaseMargin, '°')} at ${print(at.line, 'V')}, ${print(at.load, 'A')}`,
      value: loop.placed.integrator,
      unit: 'Hz',
      source: 'The K factor: a new mathematical tool for stability analysis and synthesis, Proc. Powercon 10, 1983',
      leavesOut: 'gain of the op-amp; other points of line and load',
    },
    'losses/efficiency': {
      title: 'efficiency',
      formula: 'η = Pout / (Pout + Σ losses)',
      numbers: `${print(losses.output, 'W', 4)} / (${print(losses.output, 'W', 4)} + ${print(losses.total, 'W')})`,
      value: losses.efficiency,
      unit: '%',
      source: 'sum of all mechanisms at their temperatures',
      leavesOut: 'ac resistance of the winding; control supply',
    },
  };
}
