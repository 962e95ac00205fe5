import fc from 'fast-check';
import { ladderOfModes, modesOfLadder, pulseResponse, pulsesResponse, type Rung } from './ladder';

const rung = fc.record({ resistance: fc.double({ min: 0.01, max: 5, noNaN: true }), capacity: fc.double({ min: 1e-4, max: 50, noNaN: true }) });

test('one rung is its own mode', () => {
  const one = [{ resistance: 0.5, capacity: 0.02 }];
  expect(modesOfLadder(one)[0]!.resistance).toBeCloseTo(0.5, 14);
  expect(modesOfLadder(one)[0]!.capacity).toBeCloseTo(0.02, 14);
  expect(ladderOfModes(one)).toEqual(one);
});

test('two rungs: by hand', () => {
  // R1 = C1 = R2 = C2 = 1: rates (3 ± √5)/2, of which the junction sees (5 ± √5)/10.
  const [fast, slow] = modesOfLadder([{ resistance: 1, capacity: 1 }, { resistance: 1, capacity: 1 }]);
  expect(1 / (fast!.resistance * fast!.capacity)).toBeCloseTo((3 + Math.sqrt(5)) / 2, 12);
  expect(1 / slow!.capacity).toBeCloseTo((5 + Math.sqrt(5)) / 10, 12);
  expect(1 / fast!.capacity).toBeCloseTo((5 - Math.sqrt(5)) / 10, 12);
});

test('there and back, whatever the ladder; resistances add up to the same', () => {
  fc.assert(fc.property(fc.array(rung, { minLength: 1, maxLength: 5 }), (ladder) => {
    const modes = modesOfLadder(ladder);
    const total = (list: readonly Rung[]): number => list.reduce((sum, r) => sum + r.resistance, 0);
    // Eigenvalues are right to rounding of the largest.
    const spread = (modes.at(-1)!.resistance * modes.at(-1)!.capacity) / (modes[0]!.resistance * modes[0]!.capacity);
    expect(Math.abs(total(modes) / total(ladder) - 1)).toBeLessThan(1e-12 + 1e-15 * spread);
    const back = ladderOfModes(modes);
    // Time constants that are alike to rounding make no ladder of so many rungs.
    const constants = modes.map((m) => m.resistance * m.capacity);
    if (constants.some((t, k) => k > 0 && t / constants[k - 1]! < 1.01) || modes.some((m) => m.resistance < 1e-6 * total(modes)) || spread > 1e7) return;
    back!.forEach((r, k) => {
      expect(r.resistance / ladder[k]!.resistance).toBeCloseTo(1, 4);
      expect(r.capacity / ladder[k]!.capacity).toBeCloseTo(1, 4);
    });
  }));
});

test('what is no ladder is told', () => {
  expect(ladderOfModes([])).toBeUndefined();
  expect(ladderOfModes([{ resistance: -1, capacity: 1 }])).toBeUndefined();
  expect(ladderOfModes([{ resistance: 1, capacity: 1 }, { resistance: 2, capacity: 0.5 }])).toBeUndefined();
});

test('a pulse: the capacity alone at first, the resistance at last', () => {
  const ladder = [{ resistance: 0.3, capacity: 0.01 }, { resistance: 0.7, capacity: 0.4 }, { resistance: 2, capacity: 30 }];
  const modes = modesOfLadder(ladder);
  expect(pulseResponse(modes, 1e-7) / (1e-7 / 0.01)).toBeCloseTo(1, 3);
  expect(pulseResponse(modes, 1e5)).toBeCloseTo(3, 9);
});

test('pulses for ever: many short ones are their mean, few long ones each a step; in between as one after the other', () => {
  const modes = modesOfLadder([{ resistance: 0.3, capacity: 0.01 }, { resistance: 0.7, capacity: 0.4 }]);
  expect(pulsesResponse(modes, 1e-9, 0.25)).toBeCloseTo(0.25, 6);
  expect(pulsesResponse(modes, 1e4, 0.5)).toBeCloseTo(1, 9);
  const [period, share] = [0.02, 0.3];
  let at = modes.map(() => 0);
  let most = 0;
  for (let k = 0; k < 2000; k++) {
    const over = (seconds: number, watts: number): void => void (at = at.map((v, i) => watts * modes[i]!.resistance + (v - watts * modes[i]!.resistance) * Math.exp(-seconds / (modes[i]!.resistance * modes[i]!.capacity))));
    over(share * period, 1);
    most = at.reduce((a, b) => a + b, 0);
    over((1 - share) * period, 0);
  }
  expect(pulsesResponse(modes, period, share)).toBeCloseTo(most, 9);
});
