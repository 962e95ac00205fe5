import { readFileSync, writeFileSync } from 'node:fs';
import { Part } from '../core/parts/schema';
import { preferred } from '../core/quantity';

/**
 * npm run shelf: the made-up parts. What stands in the file already under a name stays as it is; families are
 * drawn out over voltage and size by the trade-offs of each technology: resistance times charge goes with the
 * voltage, capacitance with the area, thermal resistance with its root.
 */
const round = (v: number, digits = 2): number => Number(v.toPrecision(digits));

interface Family {
  name: string;
  volts: number[];
  /** mΩ at 100 V of the sizes; they go with the voltage to the power of `rise` */
  sizes: number[];
  rise: number;
  /** Ω·C of on-resistance times gate charge at 100 V, and its power of the voltage */
  merit: number;
  meritRise: number;
  temperature: number;
  plateau: number;
  body: number;
  /** C of recovery per C of gate charge */
  recovery: number;
  junction: number;
  /** K/W from junction to case at 1 mΩ: small dies pass less heat for the same resistance */
  heat: number;
}

const SWITCHES: Family[] = [
  { name: 'Larch', volts: [30, 40, 60, 80, 100, 150, 200, 250], sizes: [4, 8, 20], rise: 1.5, merit: 3.6e-10, meritRise: 1.1, temperature: 0.0065, plateau: 4.6, body: 0.85, recovery: 1.4, junction: 150, heat: 0.35 },
  { name: 'Fir', volts: [500, 600, 650, 800], sizes: [6, 14, 40], rise: 1.2, merit: 4e-10, meritRise: 1.0, temperature: 0.009, plateau: 5.4, body: 0.9, recovery: 60, junction: 150, heat: 0.35 },
  { name: 'Rime', volts: [100, 200, 650], sizes: [6, 15], rise: 1.1, merit: 6.6e-11, meritRise: 1.0, temperature: 0.0075, plateau: 2.3, body: 2.2, recovery: 0, junction: 150, heat: 0.62 },
  { name: 'Basalt', volts: [650, 1200, 1700], sizes: [3.5, 8, 18], rise: 1.0, merit: 3e-10, meritRise: 0.7, temperature: 0.004, plateau: 7.5, body: 3.6, recovery: 1.2, junction: 175, heat: 0.35 },
];

const switches = SWITCHES.flatMap((f) =>
  f.volts.flatMap((v) =>
    f.sizes.map((milliohm) => {
      const onResistance = round(milliohm * 1e-3 * (v / 100) ** f.rise);
      const gateCharge = round((f.merit * (v / 100) ** f.meritRise) / onResistance);
      return {
        kind: 'switch', part: `${f.name} ${v}-${round(onResistance * 1000)}`, count: 1, blockingVoltage: v, onResistance, onResistanceRise: f.temperature, gateCharge,
        switchingCharge: round(gateCharge * 0.27), plateauVoltage: f.plateau, outputCapacitance: round(gateCharge * 0.0135 * (100 / v) ** 0.4), recoveryCharge: round(gateCharge * f.recovery), recoveryCurrent: 10,
        bodyDiodeDrop: f.body, junctionToCase: round(f.heat * Math.sqrt(milliohm)), caseToSink: 0.8, maxJunction: f.junction,
      };
    }),
  ),
);

const DIODES = [
  { name: 'Sorrel', volts: [30, 45, 60, 100, 150, 200], amps: [5, 10, 20], drop: (v: number) => 0.28 + v / 800, charge: 0, capacitance: 3e-11, junction: 150 },
  { name: 'Tarn', volts: [200, 400, 600, 1000, 1200], amps: [8, 30], drop: (v: number) => 0.72 + v / 3000, charge: 4e-9, capacitance: 4e-12, junction: 150 },
  { name: 'Flint', volts: [650, 1200, 1700], amps: [6, 20], drop: () => 0.95, charge: 0, capacitance: 8e-12, junction: 175 },
];
const diodes = DIODES.flatMap((f) =>
  f.volts.flatMap((v) =>
    f.amps.map((a) => ({
      kind: 'diode', part: `${f.name} ${v}-${a}`, count: 1, blockingVoltage: v, drop: round(f.drop(v)), slopeResistance: round((0.12 + v / 4000) / a), recoveryCharge: round(f.charge * a * (v / 400)), recoveryCurrent: a,
      junctionCapacitance: round((f.capacitance * a * 100) / v), junctionToCase: round(3.6 / Math.sqrt(a)), caseToSink: 0.8, maxJunction: f.junction,
    })),
  ),
);

const capacitor = (part: string, capacitance: number, esr: number, ratedVoltage: number, ratedCurrent: number): object => ({ kind: 'capacitor', part, count: null, capacitance: round(capacitance), esr: round(esr), ratedVoltage, ratedCurrent: round(ratedCurrent) });
const micro = (farad: number): string => `${round(farad * 1e6, 2)}u`.replace(/^(\d+)\.(\d+)u$/, '$1u$2');
// Ceramics: what is left at the working voltage; electrolytics: resistance by the size of the can; film: next to none.
const ceramics = [10, 16, 25, 35, 50, 100, 250, 450].flatMap((v) => [40, 120, 350].map((energy) => {
  const farad = preferred((energy * 1e-6 * 50) / (v * Math.sqrt(v)), 'E6', 'up');
  return capacitor(`Slate ${v}-${micro(farad)}`, farad * 0.68, 2.5e-3 * (1 + v / 150) * (120 / energy) ** 0.3, v, 3 * (energy / 120) ** 0.3);
}));
const electrolytics = [16, 25, 35, 63, 100, 200, 400, 450, 500].flatMap((v) => (v < 200 ? [0.12, 3] : [0.12, 3, 22]).map((joule) => {
  const farad = preferred((2 * joule) / v ** 2, 'E6', 'up');
  return capacitor(`Basin ${v}-${micro(farad)}`, farad, (0.022 * (v / 35) ** 0.9) / Math.sqrt(joule / 0.12), v, 1.9 * Math.sqrt(joule / 0.12) * (35 / v) ** 0.3);
}));
const films = [250, 450, 630].flatMap((v) => [1e-6, 4.7e-6].map((farad) => capacitor(`Heath ${v}-${micro(farad)}`, farad, 6e-3 * (1e-6 / farad) ** 0.4, v, 5 * (farad / 1e-6) ** 0.4)));

// Cores: area in mm², volume in mm³, K/W; turns trade resistance against flux.
const CORES: [number, number, number, number][] = [[16, 20, 750, 52], [20, 32, 1500, 41], [25, 52, 3100, 32], [29, 97, 5400, 24], [34, 125, 7600, 18], [42, 180, 17000, 13], [55, 350, 43000, 8.5], [65, 540, 78000, 6.2]];
// Gapped ferrite, iron powder; then, on larger cores and with more turns too, a finer powder and a gapped ribbon core.
const MATERIALS = [
  { name: '', from: 0, maxFluxDensity: 0.32, steinmetz: { k: 2.1, alpha: 1.42, beta: 2.55 } },
  { name: ' powder', from: 0, maxFluxDensity: 0.9, steinmetz: { k: 28, alpha: 1.35, beta: 2.1 } },
  { name: ' fine powder', from: 25, maxFluxDensity: 0.75, steinmetz: { k: 9, alpha: 1.36, beta: 2.15 } },
  { name: ' ribbon', from: 34, maxFluxDensity: 1.0, steinmetz: { k: 3.2, alpha: 1.5, beta: 2 } },
];
const inductors = MATERIALS.flatMap((m) =>
  CORES.filter(([size]) => size >= m.from).flatMap(([size, area, volume, heat]) =>
    (size >= 34 ? [6, 12, 25, 50, 90] : [6, 12, 25]).map((turns) => ({
      kind: 'inductor', part: `Pawl ${size}${m.name}, ${turns} turns`, inductance: null, resistance: round((1.1e-2 * turns ** 2) / (area * 0.9 + 12) / 1.6), turns, coreArea: round(area * 1e-6, 3), coreVolume: round(volume * 1e-9, 3),
      maxFluxDensity: m.maxFluxDensity, steinmetz: m.steinmetz, thermalResistance: heat, maxTemperature: 125,
    })),
  ),
);

// Shapes of IEC 62317, rounded: area and volume in mm² and mm³, window in mm², mean turn in mm.
const SHAPES: [string, number, number, number, number][] = [
  ['E 20/10/6', 32, 1490, 35, 41], ['E 25/13/7', 52, 2990, 56, 50], ['E 32/16/9', 83, 6140, 97, 60], ['E 42/21/15', 178, 17300, 178, 93], ['E 55/28/21', 353, 43900, 250, 116],
  ['ETD 29', 76, 5470, 97, 53], ['ETD 34', 97, 7640, 123, 60], ['ETD 39', 125, 11500, 177, 69], ['ETD 44', 173, 17800, 214, 77], ['ETD 49', 211, 24000, 273, 85], ['ETD 54', 280, 35500, 316, 96], ['ETD 59', 368, 51500, 366, 106],
  ['RM 8', 64, 2440, 30, 42], ['RM 10', 98, 4310, 41, 52], ['RM 12', 146, 8340, 73, 61], ['RM 14', 200, 13900, 111, 71],
  ['PQ 20/20', 62, 2790, 36, 44], ['PQ 26/25', 118, 6530, 84, 56], ['PQ 32/30', 161, 12500, 99, 67], ['PQ 40/40', 201, 20500, 250, 84],
];
// Two made-up power ferrites: one for a hundred kilohertz, one for several.
const FERRITES = [
  { name: 'Alder', permeability: 2200, maxFluxDensity: 0.36, steinmetz: { k: 2.1, alpha: 1.42, beta: 2.55 } },
  { name: 'Birch', permeability: 1500, maxFluxDensity: 0.31, steinmetz: { k: 0.16, alpha: 1.58, beta: 2.6 } },
];
const MU = 4e-7 * Math.PI;
const transformers = SHAPES.flatMap(([shape, area, volume, window, turn]) =>
  FERRITES.map((f) => ({
    kind: 'transformer', part: `${f.name} ${shape}`, primaryTurns: null, secondaryTurns: null, thirdTurns: null, inductance: null, permeance: round((MU * f.permeability * area ** 2 * 1e-12) / (volume * 1e-9)), leakagePermeance: round(0.03 * MU * turn * 1e-3),
    coreArea: round(area * 1e-6, 3), coreVolume: round(volume * 1e-9, 3), maxFluxDensity: f.maxFluxDensity, steinmetz: f.steinmetz, windowArea: round(window * 1e-6, 3), copperShare: 0.3, turnLength: round(turn * 1e-3, 3),
    // The surface grows slower than the volume.
    thermalResistance: round(53 * (volume / 1000) ** -0.54), maxTemperature: 130,
  })),
);

const file = 'shelf/parts.json';
const kept = (JSON.parse(readFileSync(file, 'utf8')) as { part: string }[]).slice(0, 17);
const names = new Set(kept.map((p) => p.part));
const made = [...switches, ...diodes, ...inductors, ...ceramics, ...electrolytics, ...films, ...transformers].filter((p) => {
  const { part } = p as { part: string };
  return !names.has(part) && names.add(part);
});
const all = [...kept, ...made].map((p) => Part.parse(p));
writeFileSync(file, `[\n${all.map((p) => JSON.stringify(p)).join(',\n')}\n]\n`);
for (const kind of ['switch', 'diode', 'inductor', 'capacitor', 'transformer']) console.log(kind, all.filter((p) => p.kind === kind).length);
