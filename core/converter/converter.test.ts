import { readFileSync } from 'node:fs';
import { must, openDemo } from '../../demo/open';
import { billOf } from '../evaluation/bill';
import { standAt } from '../evaluation/standing';
import { namesOf } from '../evaluation/assemble';
import { closeStage } from '../evaluation/closed';
import { compensatorOf, loopsAround } from '../evaluation/compensator';
import { settleStage } from '../evaluation/settleStage';
import { readCircuit, readConverter } from '../interchange/circuitFile';
import { size } from '../linear/complex';
import { multipliers } from '../orbit/stability';
import { loopAt, injectionPointAt } from '../response/injectionPoint';
import { converterFigures } from './converter';
import { stressesIn } from './stresses';

/** A circuit with roles is a converter: what is read of it needs neither topology nor control. */

const file = readFileSync('demo/circuits/buck-closed-loop.json', 'utf8');

describe.each(['cabin-lighting-rail', 'door-motor', 'radio', 'gate-supplies'])('%s, written out as one closed circuit', (name) => {
  const d = openDemo(name);
  const bill = billOf(d);
  const point = { line: (d.brief.line.min + d.brief.line.max) / 2, load: d.brief.load.max, air: 25 };
  const stage = must(settleStage(bill, must(standAt(bill, point)).only!, () => 25));
  const { controller } = must(compensatorOf(d));
  const closed = must(closeStage(stage, loopsAround(d, stage, [{ controller, sensed: 'output' }])));
  const roles = { ...stage.roles, loops: [{ title: 'output', source: namesOf(true).breaks }] };
  const read = must(readConverter(JSON.stringify({ ...closed.circuit, roles: { ...roles, outputs: roles.outputs.map((o, k) => (k === 0 ? { ...o, voltage: d.brief.output.voltage } : o)) } })));
  const figures = must(converterFigures(read));

  test('settled from rest it is the same cycle, with the same loop', () => {
    expect(figures.multiplier / multipliers(closed.cycle)[0]!.size).toBeCloseTo(1, 8);
    // The gain of the closed stage, where the file says that it crosses.
    const [loop] = loopAt(closed.machine, closed.cycle, must(injectionPointAt(closed.circuit, namesOf(true).breaks)))([figures.loops[0]!.crossover]);
    expect(size(loop!)).toBeCloseTo(1, 7);
    expect(figures.leaves).toBeUndefined();
  });
  test('its parts carry what those of the stage carry, its output stands where it shall', () => {
    const held = stressesIn(stage.circuit, stage.roles, stage.measure);
    // Closed, the duty follows the ripple that comes back: some tenths of a per cent.
    for (const [slot, s] of Object.entries(held)) expect(Math.abs(figures.stresses[slot]!.rms - s.rms)).toBeLessThan(0.01 * s.rms + 1e-6);
    expect(figures.outputs[0]!.wanted!.holds).toBe(true);
    const { input, output, total, parts } = figures.losses;
    expect(output / input).toBeGreaterThan(0.8);
    expect(parts.reduce((sum, p) => sum + p.total, 0)).toBeLessThan(total * 1.001);
    expect(parts.every((p) => p.total >= -1e-9)).toBe(true);
  });
});

describe('the file', () => {
  test('the same circuit with its roles and without them', () => {
    const { circuit, roles } = must(readConverter(file));
    expect(circuit).toEqual(must(readCircuit(file)));
    expect(roles.loops[0]).toEqual({ title: 'output voltage', source: 'inject', crossover: 10e3, phaseMargin: 45 });
    // By hand: the winding's i²R, the load's v²/R.
    const f = must(converterFigures({ circuit, roles }));
    expect(f.losses.parts.find((p) => p.id === 'L1')!.total).toBeCloseTo(f.stresses.L1!.rms ** 2 * 0.01, 9);
    expect(f.losses.output).toBeCloseTo(f.outputs[0]!.voltage.rms ** 2 / 3, 9);
    expect(f.conduction).toBe('continuous');
  });

  const changed = (change: (roles: Record<string, unknown>) => void): string => {
    const raw = JSON.parse(file) as { roles: Record<string, unknown> };
    change(raw.roles);
    return JSON.stringify(raw);
  };
  test.each<[string, string, (roles: Record<string, unknown>) => void]>([
    ['unknown', 'roles.line', (r) => (r.line = 'Q1')],
    ['unknown', 'roles.outputs.0.nodes', (r) => (r.outputs = [{ nodes: ['nowhere', '0'], loads: ['load'] }])],
    ['unknown', 'roles.outputs.0', (r) => (r.outputs = [{ nodes: ['out', '0'], loads: ['lamp'] }])],
    ['unknown', 'roles.parts.Q1', (r) => (r.parts = { Q1: { elements: ['Q9'] } })],
    ['value', 'roles.parts.Q1', (r) => (r.parts = { Q1: { elements: [] } })],
    ['unknown', 'roles.conduction', (r) => (r.conduction = { through: ['L1'], longer: 0.001 })],
    ['place', 'roles.loops.0.source', (r) => (r.loops = [{ title: 'x', source: 'L1' }])],
    ['value', 'roles', (r) => (r.colour = 'red')],
    ['dimension', 'roles.outputs.0.voltage', (r) => (r.outputs = [{ nodes: ['out', '0'], loads: ['load'], voltage: '24 A' }])],
  ])('%s at %s', (code, where, change) => {
    const read = readConverter(changed(change));
    expect(read.ok ? [] : [read.problem.code, read.problem.where, read.problem.remedy.length > 5]).toEqual([code, where, true]);
  });
  test('a circuit without roles is none', () => {
    const read = readConverter(readFileSync('demo/circuits/boost.json', 'utf8'));
    expect(read.ok ? '' : read.problem.where).toBe('roles');
  });
});
