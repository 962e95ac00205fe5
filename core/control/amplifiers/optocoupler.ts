import { degrees, radians } from '../../linear/complex';
import { fail, ok } from '../../problem';
import { preferred, printQuantity as print } from '../../quantity';
import { rationalOf } from '../rational';
import type { Amplifier, Control } from '../types';
import { boostWanted, integratorFor, pairFor, tooMuchLift } from './lift';
import { dividerPair } from './network';

/**
 * A shunt reference that drives an optocoupler: R1 and the resistor to ground divide the output to the reference, C1 makes the
 * shunt an integrator, R3 leads its current, and the output's own ripple besides, through the light source; on the other side
 * the transistor pulls the command down against R2, with C2 beside it.
 *
 *           G   s + ωz                  CTR R2            1              1
 *   C(s) =  ─ ─────────── · ωp      G = ──────    ωz = ─────   ωp = ───────────
 *           s   s + ωp                    R3           R1 C1        R2 (C2 + Cc)
 *
 * Cc is what makes the coupler's own pole with R2. R3 has to carry enough at the least transfer ratio to pull the command to
 * nothing, while the shunt still has its least voltage: G can not be made as small as one likes.
 * Source: Basso, "Designing Control Loops for Linear and Switching Power Supplies", ch. 7.
 */
const TWO_PI = 2 * Math.PI;
const LEAST_K = 2;
/** Degrees that its zero lifts at most */
const MOST_LIFT = 85;
/** V across the light source; A through the shunt beside what the light source takes */
const [LIGHT, BIAS] = [1.1, 1e-3];

interface Settings {
  ratio: number;
  spread: number;
  couplerPole: number;
  pullUp: number;
  supply: number;
  upper: number;
}
const settingsOf = (c: Control): Settings => ({ ratio: c.transferRatio as number, spread: c.ratioSpread as number, couplerPole: c.couplerPole as number, pullUp: c.pullUp as number, supply: c.pullUpSupply as number, upper: c.inputResistor as number });

/** Ω of R3 at most: at the least ratio it still pulls R2 down to nothing. */
const largestSeries = ({ ratio, spread, pullUp, supply }: Settings, output: number, reference: number): number => {
  const least = ratio * (1 - spread);
  return ((output - LIGHT - reference) * least * pullUp) / (supply + BIAS * least * pullUp);
};

export const optocoupler: Amplifier = {
  id: 'optocoupler',
  title: 'Shunt reference, optocoupler',
  by: 'through an optocoupler',
  series: 'E96 / E12',
  settings: {
    integrator: { unit: 'Hz', title: 'integrator', value: 'placed' },
    zero1: { unit: 'Hz', title: 'first zero', value: 'placed' },
    pole1: { unit: 'Hz', title: 'first pole', value: 'placed' },
    inputResistor: { unit: 'Ω', title: 'network R1', value: 10e3, asked: true },
    transferRatio: { unit: '%', title: 'transfer ratio of the coupler', value: 1, asked: true },
    ratioSpread: { unit: '%', title: 'its spread, either way', value: 0.3, asked: true },
    couplerPole: { unit: 'Hz', title: 'pole of the coupler', value: 60e3, asked: true },
    pullUp: { unit: 'Ω', title: 'network R2, pulling up', value: 2.2e3, asked: true },
    pullUpSupply: { unit: 'V', title: 'to a supply of', value: 5, asked: true },
  },
  handles: [
    { key: 'integrator', name: 'g', kind: 'gain' },
    { key: 'zero1', name: 'z1', kind: 'zero' },
    { key: 'pole1', name: 'p1', kind: 'pole' },
  ],
  place(plant, control) {
    const { crossover, phaseMargin } = control;
    const { couplerPole } = settingsOf(control);
    const boost = boostWanted(plant, phaseMargin);
    const gives = 'a type II network gives less than 90°';
    if (boost > MOST_LIFT) return tooMuchLift(boost, phaseMargin, crossover, gives, ', or take the peak current as command');
    const pair = pairFor(boost, LEAST_K);
    const pole1 = Math.min(pair.pole * crossover, couplerPole);
    // With the coupler's own pole below the one that is wanted, the zero lifts for both.
    const lifts = boost + degrees(Math.atan(crossover / pole1));
    const zero1 = pole1 < couplerPole ? pair.zero * crossover : crossover / Math.tan(radians(Math.max(5, lifts)));
    if (lifts > MOST_LIFT && pole1 === couplerPole) return tooMuchLift(boost, phaseMargin, crossover, `the pole of the coupler at ${print(couplerPole, 'Hz')} takes ${(lifts - boost).toFixed(0)}° of what a zero gives`, ', or take a faster coupler');
    return ok({ integrator: integratorFor(plant, crossover, [zero1], [pole1]), zero1, pole1 });
  },
  build({ integrator, zero1, pole1 }, control, held) {
    const s = settingsOf(control);
    const [fi, fz, fp] = [integrator!, zero1!, pole1!];
    if (!(fz < fp)) return fail('network', 'control.zero1', 'a zero at or above its pole can not be built with this network', 'move the zero below the pole');
    if (fp > s.couplerPole * (1 + 1e-9)) return fail('network', 'control.pole1', `${print(fp, 'Hz')} is above the coupler's own pole at ${print(s.couplerPole, 'Hz')}`, 'move the pole below it, or take a faster coupler');
    const most = largestSeries(s, held.output, held.reference);
    if (!(most > 0)) return fail('network', 'control.amplifier', `an output of ${print(held.output, 'V')} leaves nothing for light source and shunt above ${print(held.reference, 'V')}`, 'take an amplifier without a coupler, or a smaller reference');
    const exact = (s.ratio * s.pullUp * fz) / fi;
    if (exact > most) return fail('network', 'control.crossover', `between zero and pole it would want a gain of ${print(fi / fz, '', 3)}, by ${print(exact, 'Ω')} before the light source, and above ${print(most, 'Ω')} the coupler no longer pulls the command down`, 'raise the crossover, take a smaller R2 or a coupler of a larger ratio');
    const round = (value: number, series: 'E96' | 'E12', way: 'nearest' | 'down' = 'nearest'): number => (control.rounded ? preferred(value, series, way) : value);
    const R3 = Math.min(round(exact, 'E96'), round(most, 'E96', 'down'));
    const { upper, lower } = dividerPair(s.upper, held, control.rounded);
    const C1 = round(1 / (TWO_PI * upper * fz), 'E12');
    const own = 1 / (TWO_PI * s.couplerPole * s.pullUp);
    const beside = Math.max(0, 1 / (TWO_PI * s.pullUp * fp) - own);
    const C2 = beside > 0.01 * own ? round(beside, 'E12') : 0;
    const gain = (s.ratio * s.pullUp) / R3;
    const zero = 1 / (TWO_PI * upper * C1);
    return ok({
      built: { integrator: gain * zero, zero1: zero, pole1: 1 / (TWO_PI * s.pullUp * (C2 + own)) },
      network: {
        divider: { upper, lower },
        parts: [
          { id: 'R1', unit: 'Ω', value: upper }, { id: 'R2', unit: 'Ω', value: s.pullUp }, { id: 'R3', unit: 'Ω', value: R3 }, { id: 'C1', unit: 'F', value: C1 }, ...(C2 > 0 ? [{ id: 'C2', unit: 'F' as const, value: C2 }] : []),
          { id: 'lower', unit: 'Ω', value: lower, title: 'to ground' }, { id: 'most', unit: 'Ω', value: most, title: 'R3 at most' },
        ],
      },
    });
  },
  transfer: ({ integrator, zero1, pole1 }) => rationalOf(integrator!, [zero1!], [pole1!]),
  spread: (control) => settingsOf(control).spread,
  placement: { formula: 'boost = φm − arg P(fc) − 90°,  K = tan(boost/2 + 45°),  zero at fc/K, pole at fc·K, no higher than the coupler’s', source: 'Basso: Designing Control Loops for Linear and Switching Power Supplies, ch. 7', leavesOut: 'impedance of the shunt; the coupler’s ratio over its current' },
};
