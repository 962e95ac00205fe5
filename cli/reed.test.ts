import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { holdCorners } from '../core/corners/corners';
import { candidateAt } from '../core/choice';
import { readDesign } from '../core/design';
import { evaluate, type Figures } from '../core/evaluation';
import { TOPOLOGIES } from '../core/topology';
import { SHELF } from '../shelf';
import { caught as reed, type Outcome } from './caught';

const root = process.cwd();
const demo = path.join(root, 'demo/cabin-lighting-rail.json');
const folder = mkdtempSync(path.join(tmpdir(), 'reed-'));

/** As a process of its own, as it is used. */
function spawned(...args: string[]): Outcome {
  try {
    const out = execFileSync(process.execPath, [path.join(root, 'scripts/reed.mjs'), ...args], { encoding: 'utf8', stdio: 'pipe' });
    return { code: 0, out, err: '' };
  } catch (error) {
    const { status, stdout, stderr } = error as { status: number; stdout: string; stderr: string };
    return { code: status, out: stdout, err: stderr };
  }
}
const written = (name: string, change: (text: string) => string): string => {
  const file = path.join(folder, name);
  writeFileSync(file, change(readFileSync(demo, 'utf8')));
  return file;
};
const design = (() => {
  const read = readDesign(readFileSync(demo, 'utf8'));
  if (!read.ok) throw new Error(read.problem.message);
  return read.value;
})();
const figuresOf = (detail: boolean): Figures => {
  const found = evaluate(design, { line: 60, load: 8, air: 50 }, { detail });
  if (!found.ok) throw new Error(found.problem.message);
  return found.value;
};
const figures = figuresOf(true);
const AT = ['--line', '60', '--load', '8A', '--air', '50'];

describe('reed prints what the core computes', () => {
  test('settle', () => {
    const said = JSON.parse(reed('settle', demo, ...AT, '--json').out);
    expect(said.duty).toBe(figures.cycle.duty);
    expect(said.conduction).toBe('continuous');
    expect(said.closure).toBeLessThan(1e-9);
    expect(said.signals).toEqual(JSON.parse(JSON.stringify(figures.cycle.signals)));
  });
  test('loop', () => {
    const said = JSON.parse(reed('loop', demo, ...AT, '--json').out);
    expect([said.crossover, said.phaseMargin, said.gainMargin]).toEqual([figures.loop!.crossover, figures.loop!.phaseMargin, figures.loop!.gainMargin]);
    // A corner brackets on half the grid; what is refined in the bracket is the same to its 1e-13, and what reading a slope of it adds.
    const corner = figuresOf(false).loop!;
    for (const key of ['crossover', 'phaseMargin', 'gainMargin', 'closest'] as const) expect(Math.abs(corner[key] / figures.loop![key] - 1)).toBeLessThan(1e-11);
    expect(said.response.length).toBeGreaterThan(100);
    expect(Object.keys(said.response[0])).toEqual(['frequency', 'gain', 'phase']);
  });
  test('losses', () => {
    const said = JSON.parse(reed('losses', demo, ...AT, '--json').out);
    expect(said).toEqual(JSON.parse(JSON.stringify({ efficiency: figures.losses.efficiency, total: figures.losses.total, parts: figures.losses.parts, warnings: [] })));
  });
  test('corners', () => {
    const said = JSON.parse(reed('corners', demo, '--json').out);
    const report = holdCorners(design);
    expect(said.corners).toHaveLength(9);
    expect(said.worst[0]).toMatchObject({ id: 'deviation', value: report.worst[0]!.value, holds: false });
  });
  test('size', () => {
    const said = JSON.parse(reed('size', demo, '--json').out);
    expect(said.values.find((v: { part: string }) => v.part === 'L1')).toMatchObject({ taken: 27e-6, unit: 'H' });
    expect(reed('size', demo).out).toContain('23.4 µH');
  });
});

describe('check', () => {
  test('1 when a requirement fails, naming the tightest at its corner', () => {
    const said = spawned('check', demo);
    expect(said.code).toBe(1);
    expect(said.out).toMatch(/^fails at \d of 9 corners; tightest: load-step deviation .* at 36\.0 V, /);
  });
  test('0 when all hold', () => {
    const said = spawned('check', written('good.json', (t) => t.replace(/("part": "Slate 50-22u",\s+"count": )5/, '$16')));
    expect([said.code, said.out.startsWith('holds at all 9 corners')]).toEqual([0, true]);
  });
  test.each([
    ['no file', () => path.join(folder, 'nowhere.json'), /no such file/],
    ['not JSON', () => written('a.json', () => 'hello'), /not JSON/],
    ['a current in volts', () => written('b.json', (t) => t.replace('"max": 8 }', '"max": "8 V" }')), /brief\.load\.max: "8 V" is a voltage, and this is a current/],
    ['an impossible brief', () => written('c.json', (t) => t.replace('"min": 36, "max": 60', '"min": 12, "max": 18')), /brief\.output\.voltage: a buck only steps down/],
  ])('2 and one line: %s', (_, file, line) => {
    const said = spawned('check', file());
    expect(said.code).toBe(2);
    expect(said.err.trim().split('\n')).toHaveLength(1);
    expect(said.err).toMatch(line);
  });
});

test('topologies: what the core says of every one of them', () => {
  const said = JSON.parse(reed('topologies', demo, '--json').out).topologies;
  expect(said.map((c: { id: string }) => c.id)).toEqual(TOPOLOGIES.map((t) => t.id));
  for (const id of ['buck-diode', 'flyback', 'inverting']) {
    const k = TOPOLOGIES.findIndex((t) => t.id === id);
    expect(said[k].figures).toEqual(JSON.parse(JSON.stringify(candidateAt(design, k, SHELF).figures)));
  }
  expect(said.find((c: { id: string }) => c.id === 'boost-diode').refusal.where).toBe('brief.output.voltage');
});

describe('a circuit with roles is a converter', () => {
  const buck = path.join(root, 'demo/circuits/buck-closed-loop.json');
  const changed = (name: string, from: string, to: string): string => {
    const file = path.join(folder, name);
    writeFileSync(file, readFileSync(buck, 'utf8').replace(from, to));
    return file;
  };
  test('settle, loop, losses and check of it', () => {
    const settled = JSON.parse(reed('settle', buck, '--json').out);
    const loop = JSON.parse(reed('loop', buck, '--json').out);
    const losses = JSON.parse(reed('losses', buck, '--json').out);
    expect(settled.closure).toBeLessThan(1e-9);
    // The same as by naming the source to "circuit".
    expect(loop.loops[0].crossover / JSON.parse(reed('circuit', buck, '--loop', 'inject', '--json').out).margins.crossover).toBeCloseTo(1, 9);
    expect(losses.input - losses.output).toBeCloseTo(losses.total, 9);
    expect(losses.output).toBeCloseTo(settled.outputs[0].power, 9);
    expect([reed('check', buck).code, reed('check', buck).out]).toEqual([0, 'holds: stable, and all that its roles want is met\n']);
    for (const verb of ['settle', 'loop', 'losses']) expect(reed(verb, buck).out).toContain('Synchronous buck, closed voltage loop');
  });
  test('1 where a wanted margin or output is missed, 2 where there are no roles or a point is given', () => {
    const margin = reed('check', changed('margin.json', '"phaseMargin": "45°"', '"phaseMargin": "80°"'));
    expect([margin.code, /loop "output voltage": .* wanted at least 10\.0 kHz and 80\.0°/.test(margin.out)]).toEqual([1, true]);
    const output = reed('check', changed('output.json', '"voltage": "24 V"', '"voltage": "25 V"'));
    expect([output.code, /wanted 25\.000 V/.test(output.out)]).toEqual([1, true]);
    expect(reed('loop', path.join(root, 'demo/circuits/boost.json')).code).toBe(2);
    expect(reed('settle', buck, '--line', '40').err).toContain('a circuit has its line and its loads in it');
  });
});

describe('circuit', () => {
  const boost = path.join(root, 'demo/circuits/boost.json');
  const json = (...args: string[]) => JSON.parse(reed('circuit', boost, ...args, '--show', 'v(out)', '--json').out);
  test('settled cycle, transient and response of any circuit file', () => {
    const settled = JSON.parse(reed('circuit', boost, '--json').out);
    expect(settled.closure).toBeLessThan(1e-9);
    expect(settled.signals['v(out)'].mean).toBeGreaterThan(40);
    const run = reed('circuit', boost, '--run', '1ms', '--step', '1us', '--show', 'v(out)', 'i(L1)', '--csv').out.trim().split('\n');
    expect(run[0]).toBe('time (s),v(out) (V),i(L1) (A)');
    expect(run.length).toBeGreaterThan(1000);
    const response = JSON.parse(reed('circuit', boost, '--response', 'duty', 'v(out)', '--points', '5', '--json').out).response;
    expect(response).toHaveLength(5);
    // At 100 Hz the slope dV/dD of the ideal boost, V/(1−D), to within its losses of two percent.
    expect(Math.abs(10 ** (response[0].gain / 20) / (settled.signals['v(out)'].mean / 0.55) - 1)).toBeLessThan(0.02);
  });
  test('a run is kept and gone on from, thinned without losing its extremes; harmonics of the cycle', () => {
    const end = path.join(folder, 'end.json');
    reed('circuit', boost, '--run', '300us', '--keep', end);
    const [second, whole] = [json('--run', '200us', '--begin', end), json('--run', '500us')];
    expect(second.time[0]).toBeCloseTo(3e-4, 12);
    expect(second.signals['v(out)'].at(-1)).toBeCloseTo(whole.signals['v(out)'].at(-1), 9);
    const thin = json('--run', '500us', '--thin', '20');
    expect(Math.max(...thin.signals['v(out)'].most)).toBeCloseTo(Math.max(...whole.signals['v(out)']), 3);
    expect(json('--harmonics', '3').signals['v(out)'].harmonics).toHaveLength(4);
  });
  test('loop gain at a place, exactly and by injection: the same', () => {
    const closed = path.join(root, 'demo/circuits/buck-closed-loop.json');
    const ask = (option: string) => JSON.parse(reed('circuit', closed, option, 'inject', '--from', '5k', '--to', '30k', '--points', '2', '--json').out).response;
    const [exact, injected] = [ask('--loop'), ask('--inject')];
    expect(injected[0].good).toBe(true);
    // Injection is good to what halving its amplitude tells, some 0.0005 dB here.
    for (const k of [0, 1]) expect(Math.abs(exact[k].gain - injected[k].gain)).toBeLessThan(0.002);
    for (const k of [0, 1]) expect(Math.abs(exact[k].phase - injected[k].phase)).toBeLessThan(0.01);
  });
  test('no settled cycle: said, with what the marched waveform does', () => {
    const peak = readFileSync(path.join(root, 'demo/circuits/boost-peak-current.json'), 'utf8').replace('"slope": 60000', '"slope": 0');
    const file = path.join(folder, 'subharmonic.json');
    writeFileSync(file, peak);
    const leaves = JSON.parse(reed('circuit', file, '--json').out).leaves;
    expect([leaves.code, /add slope/.test(leaves.remedy)]).toEqual(['subharmonic', true]);
    // A switch that goes by its own hysteresis, in no relation to the period stated.
    writeFileSync(file, JSON.stringify({
      kind: 'jump-reed circuit', version: 1, name: 'free', period: 1e-5,
      elements: [
        { kind: 'voltage-source', id: 'V', a: 'in', b: '0', value: 10 }, { kind: 'switch', id: 'Q', a: 'in', b: 'x', onResistance: 0.01, gate: 'q' }, { kind: 'diode', id: 'D', a: '0', b: 'x', onResistance: 0.01 },
        { kind: 'inductor', id: 'L', a: 'x', b: 'y', inductance: 1e-5 }, { kind: 'resistor', id: 'R', a: 'y', b: '0', resistance: 1 }, { kind: 'voltage-source', id: 'control', a: 'c', b: '0', value: 3.3 },
      ],
      modulators: [{ kind: 'hysteretic', id: 'H', gate: 'q', sense: ['y', '0'], control: ['c', '0'], width: 0.7 }],
    }));
    const said = reed('circuit', file, '--settle');
    expect([said.code, /marched from rest/.test(said.out), said.err.trim().split('\n').length]).toEqual([2, true, 1]);
    // As JSON the problem is the answer.
    expect(JSON.parse(reed('circuit', file, '--json').out).problem.remedy.length).toBeGreaterThan(5);
  });

  test('more to check a figure by: powers and efficiency, events with causes, margins, several probes at chosen frequencies', () => {
    const power = json('--output', 'load').power;
    expect(Math.abs(power.residual)).toBeLessThan(1e-9);
    expect(power.efficiency).toBeCloseTo(power.elements.load / -power.elements.line, 9);
    expect(power.losses).toBeCloseTo(Object.entries(power.elements as Record<string, number>).reduce((sum, [id, w]) => sum + (id === 'load' || id === 'line' || id === 'duty' ? 0 : w), 0), 6);
    const { events } = JSON.parse(reed('circuit', boost, '--events', '--json').out);
    expect(events.find((e: { on: string[] }) => e.on.includes('Q1')).cause).toBe('at its clock');
    expect(events.find((e: { off: string[] }) => e.off.includes('Q1')).cause).toBe('its comparison crossed zero');
    const rows = JSON.parse(reed('circuit', boost, '--response', 'duty', 'v(out)', 'i(L1)', '--at', '1k,2k', '--json').out).response;
    expect(rows.map((r: { of: string; frequency: number }) => [r.of, r.frequency])).toEqual([['v(out)', 1000], ['v(out)', 2000], ['i(L1)', 1000], ['i(L1)', 2000]]);
    const linear = JSON.parse(reed('circuit', boost, '--response', 'duty', 'v(out)', '--from', '1k', '--to', '5k', '--points', '5', '--grid', 'linear', '--json').out).response;
    expect(linear.map((r: { frequency: number }) => Math.round(r.frequency))).toEqual([1000, 2000, 3000, 4000, 5000]);
    const loop = JSON.parse(reed('circuit', path.join(root, 'demo/circuits/buck-closed-loop.json'), '--loop', 'inject', '--points', '3', '--json').out);
    expect(loop.margins.crossover).toBeGreaterThan(1000);
    expect(loop.stable).toBe(true);
    // A resistor's current, the time of an extreme, a phase in degrees.
    const of = json('--harmonics', '2', '--show', 'i(load)', 'v(out)').signals['v(out)'];
    expect(Math.abs(of.harmonics[1].phase)).toBeGreaterThan(4);
    expect(of.maxAt).toBeLessThan(2e-5);
  });
  test('a cycle is looked for from a state that a run has kept', () => {
    const state = path.join(folder, 'begin.json');
    expect(reed('circuit', boost, '--run', '200us', '--keep', state).code).toBe(0);
    expect(json('--begin', state).signals['v(out)'].mean).toBeCloseTo(json().signals['v(out)'].mean, 8);
    const nowhere = reed('circuit', boost, '--run', '10us', '--keep', path.join(folder, 'no', 'where.json'));
    expect([nowhere.code, nowhere.err.trim().split('\n').length]).toEqual([2, 1]);
  });
  test('2 and one line for what can not be run', () => {
    for (const args of [[demo], [boost, '--show', 'v(nowhere)'], [boost, '--run', '1 V'], [boost, '--response', 'nobody', 'v(out)'], [boost, '--loop', 'nobody'], [boost, '--run', '1ms', '--begin', demo], [boost, '--harmonics', 'many']]) {
      const said = reed('circuit', ...args);
      expect([said.code, said.err.trim().split('\n').length]).toEqual([2, 1]);
    }
  });
});

test('every verb has its help, and a word that is none is refused with 2', () => {
  for (const verb of ['size', 'topologies', 'settle', 'loop', 'losses', 'corners', 'check']) expect(reed(verb, '--help').out).toContain('JSON:');
  expect([spawned('dance').code, reed('dance').code]).toEqual([2, 2]);
  expect(reed('losses', demo, '--line', '8A').err).toContain('is a current, and this is a voltage');
});

describe('reed new', () => {
  test('a design from a brief alone, that check holds; what was taken for granted is said beside it', () => {
    const made = reed('new', '--line', '12', '--out', '5', '--load', '0..3', '--topology', 'buck-synchronous', '--name', 'Own');
    expect(made.code).toBe(0);
    const read = readDesign(made.out);
    expect(read.ok && [read.value.name, read.value.topology, read.value.brief.line, read.value.brief.load]).toEqual(['Own', 'buck-synchronous', { min: 10.8, max: 13.2 }, { min: 0, max: 3 }]);
    expect(made.err).toContain('taken: switching frequency');
    expect(made.err).toContain('9 of 9 corners meet the brief');
  });
  test('what can not be read is refused by its option', () => {
    const refused = reed('new', '--line', '5 A', '--out', '5');
    expect([refused.code, refused.out]).toEqual([2, '']);
    expect(refused.err).toContain('--line: "5 A" is a current, and this is a voltage');
    expect(refused.err).toContain('--load: a load is wanted here');
    expect(reed('new', '--line', '12', '--out', '5', '--load', '3', '--topology', 'spoon').err).toContain('"spoon" is not a topology here');
    expect(reed('new', '--line', '12', '--out', '5', '--load', '3', '--isolated', '--topology', 'buck-synchronous').code).toBe(2);
  });
});

describe('the loop from the command line', () => {
  const radio = path.join(root, 'demo/radio.json');
  const capture = path.join(root, 'demo/measured/radio-plant.csv');
  const sampled = path.join(folder, 'sampled.json');
  writeFileSync(sampled, JSON.stringify({ ...JSON.parse(readFileSync(demo, 'utf8')), control: { ...JSON.parse(readFileSync(demo, 'utf8')).control, amplifier: 'pid', crossover: 12e3, sampled: 'pre-warped' } }));

  test('place says what the loop has; for the region, what limits it; --design gives the design', () => {
    const placed = JSON.parse(reed('place', demo, '--json').out) as { loops: { crossover: number; phaseMargin: number }[] };
    expect(placed.loops[0]!.crossover / 20e3).toBeCloseTo(1, 1);
    expect(reed('place', demo, '--region').out).toContain('holds at every corner');
    const again = readDesign(reed('place', demo, '--crossover', '15k', '--design').out);
    expect(again.ok && again.value.control.crossover).toBe(15e3);
    expect(reed('place', demo, '--crossover', '500k').code).toBe(2);
    expect(reed('place').err).toContain('nothing to place');
  });
  test('loop --at says the gain at frequencies of one’s own, and that there is none beyond the curve', () => {
    const { response, shares, modes } = JSON.parse(reed('loop', demo, '--at', '5k,20k,900k', '--json').out) as { response: { frequency: number; gain?: number }[]; shares: unknown[]; modes: unknown[] };
    expect(response.map((r) => r.frequency)).toEqual([5e3, 20e3, 900e3]);
    expect(response[0]!.gain!).toBeGreaterThan(response[1]!.gain!);
    expect(response[2]!.gain).toBeUndefined();
    expect(shares.length).toBeGreaterThan(0);
    expect(modes.length).toBeGreaterThan(0);
    expect(reed('loop', demo, '--at', '5k').out).toContain('5.00 kHz');
    expect(reed('loop', demo, '--at', 'x').code).toBe(2);
  });
  test('loop --at PLACE reads it broken elsewhere, and names the places there are', () => {
    const at = (place: string, ...more: string[]) => reed('loop', demo, '--at', place, ...more);
    const { place, places, response, crossover } = JSON.parse(at('command', '--json').out) as { place: { crossover: number; id: string }; places: { id: string }[]; response: { gain: number }[]; crossover: number };
    // One loop: the same behind its amplifier.
    expect([place.id, place.crossover / crossover]).toEqual(['command', expect.closeTo(1, 6)]);
    expect(places.map((p) => p.id)).toEqual(['output', 'command']);
    expect(response.length).toBeGreaterThan(100);
    expect(at('command').out).toContain('broken at the command');
    expect(at('comparator').err).toContain('choose output, command');
  });
  test('a measured plant alone is enough', () => {
    const found = JSON.parse(reed('place', '--plant', capture, '--crossover', '7k', '--margin', '55', '--amplifier', 'pid', '--exact', '--json').out) as { crossover: number; phaseMargin: number };
    expect(found.crossover / 7e3).toBeCloseTo(1, 3);
    expect(found.phaseMargin).toBeCloseTo(55, 1);
    expect(reed('place', '--plant', capture).err).toContain('--crossover');
    expect(reed('place', '--plant', capture, '--crossover', '500k').err).toContain('outside of what was measured');
    expect(reed('place', '--plant', capture, '--crossover', '7k', '--amplifier', 'x').err).toContain('type-three');
  });
  test('inject reads what the exact response says; fit finds the capacitor that the bench had', () => {
    const { points } = JSON.parse(reed('inject', demo, '--at', '15k,30k', '--json').out) as { points: { gain: number; exactGain: number; good: boolean }[] };
    expect(points).toHaveLength(2);
    for (const p of points) expect(Math.abs(p.gain - p.exactGain)).toBeLessThan(0.1);
    const fit = JSON.parse(reed('fit', radio, capture, '--json').out) as { values: { id: string; was: number; is: number; within: number }[]; before: { gain: number }; after: { gain: number } };
    const C = fit.values.find((v) => v.id === 'capacitance')!;
    // The capture was made with 12 % less than the design has.
    expect(Math.abs(C.is / C.was - 0.88)).toBeLessThan(0.02);
    expect(fit.after.gain).toBeLessThan(0.1 * fit.before.gain);
    expect(reed('fit', radio, demo).code).toBe(2);
  });
  test('export prints one C file of a controller that samples, and says why of a network', () => {
    const { out, code } = reed('export', sampled, '--c');
    expect(code).toBe(0);
    expect(out).toContain('controller_step');
    expect(out).toContain('SELF_TEST');
    expect(reed('export', demo, '--c').err).toContain('control.sampled');
    expect(reed('export', sampled).code).toBe(2);
  });
});
