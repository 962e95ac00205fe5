import fc from 'fast-check';
import { CAPACITOR, SWITCH } from '../testing/briefs';
import { capacitorInUse, seriesResistance } from './capacitor';
import { curvesOf } from './curves';
import { copperArea, skinDepth, skinFactor, windTurn, type Wire } from './goods';
import { renamedPart } from './older';
import { SwitchPart, type TransformerPart } from './schema';
import { outputCapacitanceAt, outputEnergy, outsideTable, tableEnergy } from './switchEnergy';
import { openDemo } from '../../demo/open';
import { GOODS, SHELF } from '../../shelf';
import { windingWires } from '../design';
import { sizeDesign } from '../evaluation';

describe('a capacitor where it stands', () => {
  const ceramic = { ...CAPACITOR, capacitance: 10e-6, halfVoltage: 20, capacitanceRise: -0.001, lossFactor: 0.01, coldFactor: 4, esr: 2e-3 };
  test('half of it is left at its half voltage, less by its rise away from 25 °C', () => {
    expect(capacitorInUse(ceramic, { volts: 20, frequency: 1e5, temperature: 25 }).capacitance).toBeCloseTo(5e-6, 12);
    expect(capacitorInUse(ceramic, { volts: 0, frequency: 1e5, temperature: 45 }).capacitance).toBeCloseTo(9.8e-6, 12);
  });
  test('its resistance is that of its leads, four times so at −40 °C, and tan δ / ωC', () => {
    expect(seriesResistance(ceramic, 1e9, 25)).toBeCloseTo(2e-3, 6);
    expect(seriesResistance(ceramic, 1e9, -40)).toBeCloseTo(8e-3, 6);
    expect(seriesResistance(ceramic, 1e3, 25) - 2e-3).toBeCloseTo(0.01 / (2 * Math.PI * 1e3 * 10e-6), 12);
  });
  test('two in series: half the capacitance, twice the resistance and the rating, each under half of the voltage', () => {
    const use = { volts: 40, frequency: 1e5, temperature: 25 };
    const [one, two] = [capacitorInUse(ceramic, { ...use, volts: 20 }), capacitorInUse({ ...ceramic, series: 2 }, use)];
    expect([two.capacitance / one.capacitance, two.esr / one.esr, two.ratedVoltage / one.ratedVoltage, two.series]).toEqual([0.5, 2, 2, 1]);
  });
  test('taken twice it is the same: what is fixed stays fixed', () => {
    fc.assert(
      fc.property(fc.double({ min: 0, max: 100, noNaN: true }), fc.double({ min: 1e3, max: 1e6, noNaN: true }), fc.double({ min: -50, max: 100, noNaN: true }), (volts, frequency, temperature) => {
        const once = capacitorInUse(ceramic, { volts, frequency, temperature });
        expect(capacitorInUse(once, { volts: volts / 2, frequency, temperature: 0 })).toEqual(once);
        expect(once.capacitance).toBeGreaterThan(0);
      }),
    );
  });
});

describe('what an output capacitance holds', () => {
  const bent = { ...SWITCH, junctionCapacitance0: 1e-9, bendVoltage: 15 };
  test('is ∫ C v dv of the capacitance that falls over voltage', () => {
    const steps = 20000;
    let sum = 0;
    for (let k = 0; k < steps; k++) {
      const v = ((k + 0.5) * 400) / steps;
      sum += (outputCapacitanceAt(bent, v) * v * 400) / steps;
    }
    expect(outputEnergy(bent, 400) / sum).toBeCloseTo(1, 6);
  });
  test('is ½ C V² where the capacitance is constant, and that of all in parallel', () => {
    expect(outputEnergy({ ...SWITCH, count: 3 }, 60)).toBeCloseTo(3 * 0.5 * SWITCH.outputCapacitance * 3600, 15);
  });
});

describe('measured energies of an edge', () => {
  const measured = { ...SWITCH, switchingEnergy: { voltage: 400, rise: 0.001, points: [[10, 1e-4, 5e-5], [20, 3e-4, 1e-4]] as [number, number, number][] } };
  test('are met at the rows, straight between them and on beyond, in proportion to the voltage, rising with the junction', () => {
    expect(tableEnergy(measured, 'on', { volts: 400, amps: 10, junction: 25 })).toBeCloseTo(1e-4, 12);
    expect(tableEnergy(measured, 'on', { volts: 400, amps: 15, junction: 25 })).toBeCloseTo(2e-4, 12);
    expect(tableEnergy(measured, 'on', { volts: 400, amps: 30, junction: 25 })).toBeCloseTo(5e-4, 12);
    expect(tableEnergy(measured, 'off', { volts: 200, amps: 5, junction: 25 })).toBeCloseTo(1.25e-5, 12);
    expect(tableEnergy(measured, 'off', { volts: 400, amps: 20, junction: 125 })).toBeCloseTo(1.1e-4, 12);
  });
  test('of two temperatures: straight between them, as at the nearer beyond, which is told, as is a current beyond the rows', () => {
    const hot = { ...measured, switchingEnergy: { ...measured.switchingEnergy, warmPoints: [[125, 10, 2e-4, 6e-5], [125, 20, 5e-4, 1.4e-4]] as [number, number, number, number][] } };
    expect(tableEnergy(hot, 'on', { volts: 400, amps: 10, junction: 25 })).toBeCloseTo(1e-4, 12);
    expect(tableEnergy(hot, 'on', { volts: 400, amps: 10, junction: 75 })).toBeCloseTo(1.5e-4, 12);
    expect(tableEnergy(hot, 'off', { volts: 400, amps: 20, junction: 125 })).toBeCloseTo(1.4e-4, 12);
    expect(tableEnergy(hot, 'on', { volts: 400, amps: 10, junction: 160 })).toBeCloseTo(2e-4, 12);
    expect(outsideTable(hot, { volts: 400, amps: 15, junction: 80 })).toEqual([]);
    expect(outsideTable(hot, { volts: 400, amps: 25, junction: 160 })).toEqual([expect.stringContaining('20 A'), expect.stringContaining('125 °C')]);
    expect(outsideTable(hot, { volts: 400, amps: 5, junction: 0 })).toEqual([expect.stringContaining('colder')]);
    expect(SwitchPart.safeParse(hot).success).toBe(true);
    // What older files say of it is the same.
    const { warmPoints: _, ...cold } = hot.switchingEnergy;
    expect(renamedPart({ ...SWITCH, switchingEnergy: { ...cold, hotTemperature: 125, hotPoints: [[10, 2e-4, 6e-5], [20, 5e-4, 1.4e-4]] } })).toEqual(hot);
    const wrongs = [{ warmPoints: [] }, { warmPoints: [[25, 10, 1e-4, 1e-4]] }, { warmPoints: [[125, 20, 1e-4, 1e-4], [125, 10, 1e-4, 1e-4]] }, { warmPoints: [[150, 10, 1e-4, 1e-4], [125, 10, 1e-4, 1e-4]] }, { points: [] }, { points: [[10, -1e-4, 0]] }, { gatePoints: [[5, 1e-4, 1e-4], [10, 2e-4, 2e-4]] }, { gateResistance: 5, gatePoints: [[5, 1e-4, 1e-4]] }, { voltagePoints: [[400, 1e-4, 1e-4]] }, { voltagePoints: [[400, 1e-4, 1e-4], [300, 1e-4, 1e-4]] }];
    for (const wrong of wrongs) expect([JSON.stringify(wrong), SwitchPart.safeParse({ ...SWITCH, switchingEnergy: { ...measured.switchingEnergy, ...wrong } }).success]).toEqual([JSON.stringify(wrong), false]);
  });
  test('of three temperatures: straight between neighbours, whichever the rows of the table are of', () => {
    const three = { ...measured, switchingEnergy: { ...measured.switchingEnergy, temperature: 75, warmPoints: [[-25, 10, 0.6e-4, 3e-5], [150, 10, 2.5e-4, 9e-5]] as [number, number, number, number][] } };
    expect(tableEnergy(three, 'on', { volts: 400, amps: 10, junction: 25 })).toBeCloseTo(0.8e-4, 12);
    expect(tableEnergy(three, 'on', { volts: 400, amps: 10, junction: 112.5 })).toBeCloseTo(1.75e-4, 12);
    expect(tableEnergy(three, 'on', { volts: 400, amps: 10, junction: -40 })).toBeCloseTo(0.6e-4, 12);
  });
  test('over gate resistors and voltages: by the rows beside that of the table, straight between and beyond, which is told', () => {
    const table = { ...measured.switchingEnergy, gateResistance: 10, gatePoints: [[5, 0.8e-4, 4e-5], [10, 1e-4, 5e-5], [20, 1.6e-4, 9e-5]] as [number, number, number][], voltagePoints: [[200, 0.4e-4, 2e-5], [400, 1e-4, 5e-5], [600, 1.8e-4, 9e-5]] as [number, number, number][] };
    const part = { ...measured, switchingEnergy: table };
    expect(SwitchPart.safeParse(part).success).toBe(true);
    const at = (more: object, edge: 'on' | 'off' = 'on'): number => tableEnergy(part, edge, { volts: 400, amps: 10, junction: 25, gate: 10, ...more })!;
    expect(at({})).toBeCloseTo(1e-4, 12);
    expect(at({ gate: 15 })).toBeCloseTo(1.3e-4, 12);
    expect(at({ gate: 15 }, 'off') / at({}, 'off')).toBeCloseTo(7 / 5, 12);
    expect(at({ gate: 30 })).toBeCloseTo(2.2e-4, 12);
    expect(at({ volts: 300 })).toBeCloseTo(0.7e-4, 12);
    expect(at({ volts: 100 })).toBeCloseTo(0.2e-4, 12);
    const told = (more: object): string[] => outsideTable(part, { volts: 400, amps: 10, junction: 25, gate: 10, ...more });
    expect([told({}), told({ gate: 30 }), told({ volts: 700 })]).toEqual([[], [expect.stringContaining('30 Ω')], [expect.stringContaining('700 V')]]);
    const { gatePoints: _, ...ungated } = table;
    expect(outsideTable({ ...part, switchingEnergy: ungated }, { volts: 400, amps: 10, junction: 25, gate: 15 })).toEqual([expect.stringContaining('measured with 10 Ω')]);
  });
  test('of two in parallel are twice those of half the current each', () => {
    expect(tableEnergy({ ...measured, count: 2 }, 'on', { volts: 400, amps: 30, junction: 25 })).toBeCloseTo(2 * tableEnergy(measured, 'on', { volts: 400, amps: 15, junction: 25 })!, 12);
  });
});

describe('wires', () => {
  const wire = (diameter: number): Wire => ({ kind: 'wire', part: 'any', diameter, strands: 1, outerDiameter: diameter });
  test('a field goes 0.21 mm into warm copper at 100 kHz; twice as far at a quarter of the frequency', () => {
    expect(skinDepth(1e5)).toBeCloseTo(0.211e-3, 5);
    expect(skinDepth(2.5e4) / skinDepth(1e5)).toBeCloseTo(2, 12);
  });
  test('a thin wire has its dc resistance; a thick one rises with the root of the frequency', () => {
    expect(skinFactor(wire(0.05e-3), 1e5)).toBeCloseTo(1, 3);
    expect(skinFactor(wire(5e-3), 4e5) / skinFactor(wire(5e-3), 1e5)).toBeCloseTo(2, 2);
  });
  test('a turn is wound with the thickest wire that the field goes through, as many as make its copper', () => {
    const wires = GOODS.filter((g): g is Wire => g.kind === 'wire');
    const found = windTurn(wires, 1e-6, 1e5)!;
    expect(found.wire.diameter).toBeLessThanOrEqual(2 * skinDepth(1e5));
    expect(Math.abs(found.parallel * copperArea(found.wire) - 1e-6)).toBeLessThanOrEqual(copperArea(found.wire));
    expect(windTurn(wires, 1e-12, 1e5)).toBeUndefined();
  });
});

test('the windings of the gate supplies’ transformer: each has strands for the copper that its share of the window leaves a turn', () => {
  const gates = openDemo('gate-supplies');
  const wires = GOODS.filter((g): g is Wire => g.kind === 'wire');
  const { depth, turns } = windingWires(gates, sizeDesign(gates), 'T1', wires)!;
  expect(depth).toBeCloseTo(skinDepth(120e3), 12);
  expect(turns.map((t) => t.title)).toEqual(['primary', 'secondary', 'third']);
  const copper = (w: { count: number; diameter: number }): number => w.count * copperArea({ diameter: w.diameter, strands: 1, outerDiameter: w.diameter });
  // As the part says, all of the copper; with wires of the shelf as near as whole ones come.
  for (const { area, wound } of turns) expect(copper(wound!) / area).toBeCloseTo(1, 9);
  const { winding: _, ...plain } = gates.parts.T1 as TransformerPart;
  for (const { area, wound } of windingWires({ ...gates, parts: { ...gates.parts, T1: plain } }, sizeDesign(gates), 'T1', wires)!.turns) expect(Math.abs(copper(wound!) / area - 1)).toBeLessThan(0.3);
  expect(windingWires(gates, sizeDesign(gates), 'Q1', wires)).toBeUndefined();
});

test('every part of the shelf has curves, and every point of them is a number', () => {
  const curves = SHELF.map((p) => ({ part: p.part, lines: curvesOf(p).flatMap((c) => c.lines) }));
  expect(curves.filter((c) => c.lines.length === 0 || c.lines.some((l) => l.points.length < 2 || !l.points.flat().every(Number.isFinite))).map((c) => c.part)).toEqual([]);
});
test('there are six materials, a dozen sinks and wires to wind with', () => {
  const count = (kind: string): number => GOODS.filter((g) => g.kind === kind).length;
  expect([count('material') >= 6, count('sink') >= 12, count('wire') >= 12]).toEqual([true, true, true]);
});
