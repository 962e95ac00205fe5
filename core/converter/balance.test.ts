import fc from 'fast-check';
import { integrals, type Quantity } from '../orbit/measure';
import { billOf } from '../evaluation/bill';
import { settleStage } from '../evaluation/settleStage';
import { standAt } from '../evaluation/standing';
import { automaticDesign } from '../testing/automatic';
import { TOPOLOGIES } from '../topology';
import { powerBalance } from './power';

/** What every settled cycle keeps, whatever the topology: energy, flux and charge. */

const share = fc.double({ min: 0, max: 1, noNaN: true });

describe.each(TOPOLOGIES.map((t) => [t.title, t] as const))('%s', (_, t) => {
  test('over a period no energy, no flux of an inductor and no charge of a capacitor is left over', () => {
    let settled = 0;
    fc.assert(
      fc.property(fc.constantFrom(0, 1, 2), share, share, (k, alongLine, alongLoad) => {
        const d = automaticDesign(t, k);
        fc.pre(d !== undefined);
        const { line, load } = d!.brief;
        const bill = billOf(d!);
        const stand = standAt(bill, { line: line.min + alongLine * (line.max - line.min), load: load.min + alongLoad * (load.max - load.min), air: 25 });
        fc.pre(stand.ok);
        const point = stand.ok ? (stand.value.only ?? stand.value.mains!.at(1, stand.value.mains!.level())) : undefined;
        const stage = settleStage(bill, point!, () => 60);
        // One that can not reach its output there is refused elsewhere.
        fc.pre(stage.ok);
        if (!stage.ok) return;
        settled++;
        const { circuit, cycleIntegrals: g, roles, machine, cycle } = stage.value;
        const largest = (kind: string): number => Math.max(0, ...cycle.intervals.flatMap(({ z0 }) => [...z0].filter((__, i) => machine.layout.kind[i] === kind).map(Math.abs)));
        const open = cycle.closure + 1e-13;
        expect(Math.abs(powerBalance(circuit, roles, g).residual)).toBeLessThan(1e-6);
        for (const e of circuit.elements) {
          if (e.kind !== 'inductor' && e.kind !== 'capacitor') continue;
          const kept: Quantity = e.kind === 'inductor' ? (p) => p.voltage(e.a, e.b) : (p) => p.current(e.id);
          const { mean, rms } = integrals(g, kept);
          // The cycle closes to its closure, a share of the largest state of that kind, and what numbers of sixteen digits hold: C ΔV / T and L ΔI / T stay.
          const left = (e.kind === 'inductor' ? e.inductance * largest('A') : e.capacitance * largest('V')) * (open / cycle.period);
          expect(Math.abs(mean)).toBeLessThan(1e-7 * rms + 2 * left);
        }
      }),
      { numRuns: 4, endOnFailure: true },
    );
    expect(settled).toBeGreaterThan(0);
  });
});
