import { SHELF } from '.';

const of = <K extends (typeof SHELF)[number]['kind']>(kind: K) => SHELF.filter((p): p is Extract<(typeof SHELF)[number], { kind: K }> => p.kind === kind);

describe('the shelf', () => {
  test('every part has a name of its own', () => {
    expect(new Set(SHELF.map((p) => p.part)).size).toBe(SHELF.length);
  });

  test('a working set: switches and diodes from 30 to 3300 V, capacitors and inductors to choose from', () => {
    const blocking = [...of('switch'), ...of('diode')].map((p) => p.blockingVoltage);
    expect(blocking.length).toBeGreaterThanOrEqual(60);
    expect([Math.min(...blocking), Math.max(...blocking)]).toEqual([30, 3300]);
    expect(of('capacitor').length).toBeGreaterThanOrEqual(40);
    expect(of('inductor').length).toBeGreaterThanOrEqual(40);
  });

  test('in a family of one voltage, less resistance costs more charge and lets more heat through', () => {
    const family = (part: string): string => part.replace(/-.*$/, '');
    const names = [...new Set(of('switch').map((p) => family(p.part)))];
    expect(names.length).toBeGreaterThan(10);
    for (const name of names) {
      const sorted = of('switch').filter((p) => family(p.part) === name).sort((a, b) => a.onResistance - b.onResistance);
      for (let k = 1; k < sorted.length; k++) {
        expect(sorted[k]!.gateCharge).toBeLessThanOrEqual(sorted[k - 1]!.gateCharge);
        expect(sorted[k]!.junctionToCase).toBeGreaterThanOrEqual(sorted[k - 1]!.junctionToCase);
      }
    }
  });
});
