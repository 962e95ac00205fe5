import type { Control } from '../control/types';
import { CRITICAL, HELD_DUTY } from '../control/held';
import { CAPACITOR, DIODE, INDUCTOR, SWITCH, TRANSFORMER } from '../testing/briefs';
import { topologyNamed } from './index';
import type { SizingInput, Topology } from './types';

/** 230 V to so many volts, 100 W at 100 kHz, parts without losses. */
function ideal(t: Topology, method: string, output: number, changes: Partial<SizingInput['brief']> = {}): SizingInput {
  const amps = 100 / output;
  const parts = Object.fromEntries(t.slots.map((p) => [p.id, {
    switch: { ...SWITCH, onResistance: 1e-6 }, diode: { ...DIODE, drop: 0, slopeResistance: 1e-6 }, inductor: { ...INDUCTOR, resistance: 1e-6 },
    capacitor: { ...CAPACITOR, esr: 1e-6, capacitance: 1e-5 }, transformer: { ...TRANSFORMER, leakagePermeance: 1e-13, turnLength: 1e-9, coreArea: 3e-4 },
  }[p.kind]]));
  return {
    brief: { line: { min: 200, max: 250, mains: 50 }, output: { voltage: output }, load: { min: amps / 5, max: amps }, loadStep: amps / 4, frequency: 100e3, air: { min: 0, max: 40 }, rippleShare: 0.3, lineRipple: 5, ...changes },
    parts, control: { method } as Control, drive: { voltage: 10, gateResistance: 3, turnOffResistance: null, deadTime: 0 }, crossover: 10, allowed: { ripple: output / 40, deviation: output / 20, stress: 0.8 },
  };
}

describe('Erickson, Maksimović, ch. 18: loss-free resistors that follow the line by themselves', () => {
  test.each([['mains-flyback', 24], ['mains-sepic', 120]])('%s with its duty held: R = 2 L f / D², at every angle, and V²/R is the power', (id, output) => {
    const t = topologyNamed(id)!;
    const input = ideal(t, HELD_DUTY, output);
    const sizing = t.size(input);
    const L = id === 'mains-flyback' ? sizing.values.T1!.taken : 1 / (1 / sizing.values.L1!.taken + 1 / sizing.values.L2!.taken);
    for (const line of [200, 250]) {
      const point = { line, load: input.brief.load.max, air: 25 };
      const { command: D, crest } = t.forecast(input, sizing, point);
      const R = (2 * L * 1e5) / D! ** 2;
      expect(line ** 2 / R / 100).toBeCloseTo(1, 2);
      for (const angle of [0.3, 0.8, Math.PI / 2]) expect(t.mains!.drawnAt(input, sizing, { ...point, angle, command: D! }) / ((Math.SQRT2 * line * Math.sin(angle)) / R)).toBeCloseTo(1, 2.5);
      expect(crest! / ((Math.SQRT2 * line) / R)).toBeCloseTo(1, 2.5);
    }
  });

  test('a boost in critical conduction: on for 2 L P / V², its frequency (1 − v / Vout) over that', () => {
    const t = topologyNamed('mains-boost')!;
    const input = ideal(t, CRITICAL, 400);
    const sizing = t.size(input);
    const L = sizing.values.L1!.taken;
    for (const line of [200, 250]) {
      const point = { line, load: 0.25, air: 25 };
      const on = t.forecast(input, sizing, point).command!;
      // Kept off a little near the zero crossing, it is on for a little longer.
      expect(on / ((2 * L * 100) / line ** 2)).toBeCloseTo(1, 2);
      for (const angle of [1, Math.PI / 2]) {
        const at = t.forecast(input, sizing, { ...point, angle, command: on });
        expect((at.period! * (1 - (Math.SQRT2 * line * Math.sin(angle)) / 400)) / on).toBeCloseTo(1, 3);
      }
    }
    // The frequency of the brief is the lowest.
    const slowest = Math.max(...[200, 250].map((line) => t.forecast(input, sizing, { line, load: 0.25 }).period!));
    expect(1 / slowest).toBeGreaterThan(1e5);
    expect(1 / slowest).toBeLessThan(1.25e5);
  });

  test('a boost with its duty held draws D² v / (2 f L) · Vout / (Vout − v): the more the nearer it comes to the output', () => {
    const t = topologyNamed('mains-boost')!;
    const input = ideal(t, HELD_DUTY, 400);
    const sizing = t.size(input);
    const point = { line: 230, load: 0.25, air: 25 };
    const D = t.forecast(input, sizing, point).command!;
    for (const angle of [0.3, 1, Math.PI / 2]) {
      const v = Math.SQRT2 * 230 * Math.sin(angle);
      expect(t.mains!.drawnAt(input, sizing, { ...point, angle, command: D }) / ((D ** 2 * v) / (2 * 1e5 * sizing.values.L1!.taken) / (1 - v / 400))).toBeCloseTo(1, 3);
    }
  });
});

test('what is sized for a held duty rests in every period at full load, and more inductance does not', () => {
  for (const [id, output, slot] of [['mains-boost', 400, 'L1'], ['mains-sepic', 120, 'L1'], ['mains-flyback', 24, 'T1']] as const) {
    const t = topologyNamed(id)!;
    const input = ideal(t, HELD_DUTY, output);
    const sizing = t.size(input);
    const goesOn = (values: typeof sizing.values): boolean[] => [200, 250].map((line) => t.forecast(input, { values }, { line, load: input.brief.load.max }).goesOn === true);
    expect(goesOn(sizing.values)).toEqual([false, false]);
    const more = Object.fromEntries(Object.entries(sizing.values).map(([k, v]) => [k, k === slot || k === 'L2' ? { ...v, taken: 3 * v.taken } : v]));
    expect(goesOn(more)).toContain(true);
  }
});

test('a mains of 400 Hz is served; a switching frequency that it moves within is not', () => {
  const t = topologyNamed('mains-flyback')!;
  expect(t.refuses(ideal(t, HELD_DUTY, 24, { line: { min: 100, max: 130, mains: 400 } }).brief)).toBeUndefined();
  expect(t.refuses(ideal(t, HELD_DUTY, 24, { line: { min: 100, max: 130, mains: 400 }, frequency: 30e3 }).brief)).toMatchObject({ code: 'impossible', where: 'brief.frequency' });
});
