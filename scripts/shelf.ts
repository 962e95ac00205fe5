import { readFileSync, writeFileSync } from 'node:fs';
import { Goods, type Core, type Wire } from '../core/parts/goods';
import { Part } from '../core/parts/schema';
import { preferred } from '../core/quantity';
import { factorAt, lay, resistanceOf } from '../core/magnetics/window';

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
  /** Tables of measured energies from 1200 V */
  measured?: true;
  /** K/W from junction to case at 1 mΩ: small dies pass less heat for the same resistance */
  heat: number;
}

const SWITCHES: Family[] = [
  { name: 'Larch', volts: [30, 40, 60, 80, 100, 150, 200, 250], sizes: [4, 8, 20], rise: 1.5, merit: 3.6e-10, meritRise: 1.1, temperature: 0.0065, plateau: 4.6, body: 0.85, recovery: 1.4, junction: 150, heat: 0.35 },
  { name: 'Fir', volts: [500, 600, 650, 800], sizes: [6, 14, 40], rise: 1.2, merit: 4e-10, meritRise: 1.0, temperature: 0.009, plateau: 5.4, body: 0.9, recovery: 60, junction: 150, heat: 0.35 },
  { name: 'Rime', volts: [100, 200, 650], sizes: [6, 15], rise: 1.1, merit: 6.6e-11, meritRise: 1.0, temperature: 0.0075, plateau: 2.3, body: 2.2, recovery: 0, junction: 150, heat: 0.62 },
  { name: 'Basalt', volts: [650, 1200, 1700], sizes: [3.5, 8, 18], rise: 1.0, merit: 3e-10, meritRise: 0.7, temperature: 0.004, plateau: 7.5, body: 3.6, recovery: 1.2, junction: 175, heat: 0.35, measured: true },
];

/** Fall of the output capacitance over voltage, with the same energy at half the rating as the constant one. */
function capacitanceOver(volts: number, effective: number): object {
  const bend = volts / 40;
  const u = Math.sqrt(1 + volts / 2 / bend);
  const energy = bend ** 2 * ((2 / 3) * (u ** 3 - 1) - 2 * (u - 1));
  return { junctionCapacitance0: round((0.5 * effective * (volts / 2) ** 2) / energy), bendVoltage: round(bend) };
}

/** Energies of the edges as a test bench would give them at half the rating: charge over a gate current, bending up a little. */
function measured(volts: number, ohms: number, charge: number, plateau: number): object {
  const full = round(2 / ohms ** 0.5);
  const row = (i: number): [number, number, number] => {
    const time = (charge * 0.27 * 4) / plateau;
    return [round(i), round(0.25 * volts * i * time * (1.6 + i / full)), round(0.25 * volts * i * time * (0.8 + (0.5 * i) / full))];
  };
  return { voltage: volts / 2, rise: 0.0008, points: [0.25, 0.5, 1, 1.5].map((share) => row(share * full)) };
}

const switches = SWITCHES.flatMap((f) =>
  f.volts.flatMap((v) =>
    f.sizes.map((milliohm) => {
      const onResistance = round(milliohm * 1e-3 * (v / 100) ** f.rise);
      const gateCharge = round((f.merit * (v / 100) ** f.meritRise) / onResistance);
      return {
        kind: 'switch', part: `${f.name} ${v}-${round(onResistance * 1000)}`, count: 1, blockingVoltage: v, onResistance, onResistanceRise: f.temperature, gateCharge,
        switchingCharge: round(gateCharge * 0.27), plateauVoltage: f.plateau, outputCapacitance: round(gateCharge * 0.0135 * (100 / v) ** 0.4), recoveryCharge: round(gateCharge * f.recovery), recoveryCurrent: 10,
        bodyDiodeDrop: f.body, junctionToCase: round(f.heat * Math.sqrt(milliohm)), caseToSink: 0.8, maxJunction: f.junction,
        thresholdVoltage: round(f.plateau * 0.62), ...capacitanceOver(v, gateCharge * 0.0135 * (100 / v) ** 0.4), ...(f.measured && v >= 1200 ? { switchingEnergy: measured(v, onResistance, gateCharge, f.plateau) } : {}),
      };
    }),
  ),
);

const DIODES = [
  { name: 'Sorrel', volts: [30, 45, 60, 100, 150, 200], amps: [5, 10, 20], drop: (v: number) => 0.28 + v / 800, charge: 0, capacitance: 3e-11, junction: 150 },
  { name: 'Tarn', volts: [200, 400, 600, 1000, 1200], amps: [8, 30], drop: (v: number) => 0.72 + v / 3000, charge: 4e-9, capacitance: 4e-12, junction: 150 },
  { name: 'Flint', volts: [650, 1200, 1700, 2500, 3300], amps: [6, 20], drop: () => 0.95, charge: 0, capacitance: 8e-12, junction: 175 },
];
const diodes = DIODES.flatMap((f) =>
  f.volts.flatMap((v) =>
    f.amps.map((a) => ({
      kind: 'diode', part: `${f.name} ${v}-${a}`, count: 1, blockingVoltage: v, drop: round(f.drop(v)), slopeResistance: round((0.12 + v / 4000) / a), recoveryCharge: round(f.charge * a * (v / 400)), recoveryCurrent: a,
      junctionCapacitance: round((f.capacitance * a * 100) / v), junctionToCase: round(3.6 / Math.sqrt(a)), caseToSink: 0.8, maxJunction: f.junction,
    })),
  ),
);

const capacitor = (part: string, capacitance: number, esr: number, ratedVoltage: number, ratedCurrent: number, more: object): object => ({ kind: 'capacitor', part, count: null, capacitance: round(capacitance), esr: round(esr), ratedVoltage, ratedCurrent: round(ratedCurrent), ...more });
const micro = (farad: number): string => `${round(farad * 1e6, 2)}u`.replace(/^(\d+)\.(\d+)u$/, '$1u$2');
// Ceramics lose capacitance under bias; electrolytics have their resistance by the size of the can, and more of it in the cold; film has next to none.
const ceramics = [10, 16, 25, 35, 50, 100, 250, 450].flatMap((v) => [40, 120, 350].map((energy) => {
  const farad = preferred((energy * 1e-6 * 50) / (v * Math.sqrt(v)), 'E6', 'up');
  return capacitor(`Slate ${v}-${micro(farad)}`, farad, 2.5e-3 * (1 + v / 150) * (120 / energy) ** 0.3, v, 3 * (energy / 120) ** 0.3, { halfVoltage: round(v * 0.9), capacitanceRise: -0.0005, lossFactor: 0.004, height: 0.0026 });
}));
const electrolytics = [16, 25, 35, 63, 100, 200, 400, 450, 500].flatMap((v) => (v < 200 ? [0.12, 3] : [0.12, 3, 22]).map((joule) => {
  const farad = preferred((2 * joule) / v ** 2, 'E6', 'up');
  return capacitor(`Basin ${v}-${micro(farad)}`, farad, (0.022 * (v / 35) ** 0.9) / Math.sqrt(joule / 0.12), v, 1.9 * Math.sqrt(joule / 0.12) * (35 / v) ** 0.3, { capacitanceRise: 0.0025, coldFactor: v > 150 ? 6 : 4, lossFactor: v > 150 ? 0.15 : 0.1, height: joule < 1 ? 0.0125 : joule < 10 ? 0.0315 : 0.047 });
}));
// Small ones for snubbers, that hardly lose.
const small = [100, 250, 630, 1200].flatMap((v) => [1e-10, 2.2e-10, 4.7e-10, 1e-9, 2.2e-9, 4.7e-9].map((farad) => capacitor(`Chalk ${v}-${farad < 1e-9 ? `${Math.round(farad * 1e12)}p` : `${round(farad * 1e9)}n`.replace(/^(\d+)\.(\d+)n$/, '$1n$2')}`, farad, 0.02 * (1e-9 / farad) ** 0.5, v, 2 * (farad / 1e-9) ** 0.4, { lossFactor: 0.001, height: 0.0016 })));
const films = [250, 450, 630].flatMap((v) => [1e-6, 4.7e-6].map((farad) => capacitor(`Heath ${v}-${micro(farad)}`, farad, 6e-3 * (1e-6 / farad) ** 0.4, v, 5 * (farad / 1e-6) ** 0.4, { capacitanceRise: -0.0003, lossFactor: 0.0008, height: farad < 2e-6 ? 0.017 : 0.028 })));

// Cores: area in mm², volume in mm³, K/W; turns trade resistance against flux.
const CORES: [number, number, number, number][] = [[16, 20, 750, 52], [20, 32, 1500, 41], [25, 52, 3100, 32], [29, 97, 5400, 24], [34, 125, 7600, 18], [42, 180, 17000, 13], [55, 350, 43000, 8.5], [65, 540, 78000, 6.2], [80, 800, 140000, 4.6], [102, 1300, 280000, 3.1], [130, 2100, 560000, 2.1]];
/** A bare core: a window of a quarter of the size across and two fifths of it along, a mean turn around the leg and half of that. */
function bareCore([size, area, volume, heat]: (typeof CORES)[number]): Core {
  const [windowWidth, windowHeight] = [0.26e-3 * size, 0.41e-3 * size];
  return { kind: 'core', part: `Pawl ${size}`, coreArea: round(area * 1e-6, 3), coreVolume: round(volume * 1e-9, 3), windowWidth: round(windowWidth), windowHeight: round(windowHeight), turnLength: round(4 * Math.sqrt(area * 1e-6) + Math.PI * windowWidth), thermalResistance: heat, height: round(0.55e-3 * size + 1.5e-3) };
}
const SOLID: Wire[] = [0.1, 0.14, 0.2, 0.25, 0.315, 0.4, 0.5, 0.63, 0.8, 1, 1.25, 1.6, 2].map((d) => ({ kind: 'wire', part: `Strand ${d}`, diameter: round(d * 1e-3, 3), strands: 1, outerDiameter: round(d * 1e-3 * 1.09 + 1.5e-5, 3) }));
const BUNDLES: Wire[] = ([[0.1, 20], [0.1, 60], [0.1, 120], [0.05, 100], [0.05, 300], [0.071, 180], [0.071, 600], [0.071, 2000]] as const).map(([d, n]) => ({ kind: 'wire', part: `Braid ${n}×${d}`, diameter: round(d * 1e-3, 3), strands: n, outerDiameter: round(1.3 * d * 1e-3 * Math.sqrt(n), 3) }));
const FOILS: Wire[] = [0.05, 0.1, 0.2, 0.35, 0.5, 1].map((t) => ({ kind: 'wire', part: `Sheet ${t}`, diameter: round(t * 1e-3, 3), strands: 1, outerDiameter: round(t * 1e-3 + 5e-5, 3), width: 'window' }));

/** Hz that shelf inductors are wound for, by the size of their core; square of the ripple's rms over that of all, for a ripple of two fifths; share by which the resistance may miss what is wanted and is still called so */
const woundFor = (size: number): number => (size >= 80 ? 40e3 : size >= 34 ? 100e3 : 200e3);
const [RIPPLE, MISS] = [0.4 ** 2 / 12, 0.02];
/** How a maker winds an inductor of so many turns: with no less resistance than is wanted, what loses least with its ripple. */
function windingOf(core: Core, size: number, turns: number, wanted: number, permeability: number): { resistance: number; winding: object } {
  const ways = [...SOLID, ...BUNDLES, ...FOILS].flatMap((wire) => Array.from({ length: wire.width ? 1 : 12 }, (_, k) => ({ wire, parallel: k + 1 }))).filter(({ wire, parallel }) => lay(core, wire, turns, parallel).fits).map((w) => ({ ...w, ohms: resistanceOf(core, w.wire, turns, w.parallel) })).filter((w) => w.ohms >= (1 - MISS) * wanted);
  const cost = (w: (typeof ways)[number]): number => w.ohms * (1 + RIPPLE * (factorAt(core, w.wire, turns, w.parallel, woundFor(size), 60) - 1));
  const [{ wire, parallel, ohms }] = ways.toSorted((x, y) => cost(x) - cost(y)) as [(typeof ways)[number]];
  return {
    resistance: ohms < (1 + MISS) * wanted ? wanted : round(ohms),
    winding: { windowWidth: core.windowWidth, windowHeight: core.windowHeight, turnLength: core.turnLength, permeability, gaps: 1, diameter: wire.diameter, strands: wire.strands, outerDiameter: wire.outerDiameter, ...(wire.width === undefined ? {} : { width: wire.width }), parallel },
  };
}

// Gapped ferrite, iron powder; then, on larger cores and with more turns too, a finer powder and a gapped ribbon core.
const MATERIALS = [
  { name: '', permeability: 2200, from: 0, maxFluxDensity: 0.32, steinmetz: { k: 2.1, alpha: 1.42, beta: 2.55 } },
  { name: ' powder', permeability: 60, from: 0, maxFluxDensity: 0.9, steinmetz: { k: 28, alpha: 1.35, beta: 2.1 } },
  { name: ' fine powder', permeability: 90, from: 25, maxFluxDensity: 0.75, steinmetz: { k: 9, alpha: 1.36, beta: 2.15 } },
  { name: ' ribbon', permeability: 4000, from: 34, maxFluxDensity: 1.0, steinmetz: { k: 3.2, alpha: 1.5, beta: 2 } },
];
/** Turns that a size is wound with: a few thick ones on large cores, many thin ones on small cores of ferrite, for small currents. */
const turnsOf = (size: number, permeability: number): number[] => (size >= 80 ? [3, 4, 6, 9, 12, 18, 25, 35, 50, 90] : size >= 34 ? [3, 6, 12, 25, 50, 90, ...(permeability > 1000 ? [180] : [])] : [3, 6, 12, 25, ...(permeability > 1000 ? [50, 100, 200] : [])]);
const inductors = MATERIALS.flatMap((m) =>
  CORES.filter(([size]) => size >= m.from).flatMap(([size, area, volume, heat]) =>
    turnsOf(size, m.permeability).map((turns) => ({
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
  ['E 65/32/27', 540, 79000, 390, 150], ['E 80/38/20', 390, 72300, 760, 165], ['U 93/76/30', 840, 297000, 1700, 235], ['U 126/91/40', 1200, 560000, 3000, 300],
];
// Made-up power ferrites: for a hundred kilohertz, for several, for a megahertz.
const FERRITES = [
  { name: 'Alder', permeability: 2200, maxFluxDensity: 0.36, steinmetz: { k: 2.1, alpha: 1.42, beta: 2.55 } },
  { name: 'Cedar', permeability: 900, maxFluxDensity: 0.4, steinmetz: { k: 0.03, alpha: 1.66, beta: 2.4 } },
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
const kept = (JSON.parse(readFileSync(file, 'utf8')) as { part: string; resistance?: number }[]).slice(0, 17);
const names = new Set(kept.map((p) => p.part));
const made = [...switches, ...diodes, ...inductors, ...ceramics, ...electrolytics, ...films, ...small, ...transformers].filter((p) => {
  const { part } = p as { part: string };
  return !names.has(part) && names.add(part);
});
/** m above the board: flat packages by their voltage, coils and cores by their size. */
function heightOf(p: Part): number | undefined {
  if (p.kind === 'switch' || p.kind === 'diode') return p.blockingVoltage <= 250 ? 0.0023 : 0.0048;
  if (p.kind === 'inductor') return round(0.5 * Math.cbrt(p.coreVolume) + 0.004 + 0.25 * Math.cbrt(p.coreVolume));
  if (p.kind === 'transformer') return round(1.15 * Math.cbrt(p.coreVolume) + 0.004);
  return p.height;
}
/** The class of a cost: steps of half as much again, from what the cheapest chip of a capacitor costs. */
function costClassOf(p: Part): number {
  const cost = costOf(p);
  return Math.min(30, Math.max(1, Math.round(Math.log(cost / 0.02) / Math.log(1.5)) + 1));
}
/** By what goes into it: die area and its technology, copper and core, energy that is stored. */
function costOf(p: Part): number {
  const named = (...names: string[]): boolean => names.some((n) => p.part.startsWith(n) || p.part.includes(` ${n}`));
  if (p.kind === 'switch') return 0.25 + (named('Rime') ? 12 : named('Basalt') ? 18 : 5) * ((p.blockingVoltage / 100) ** 1.2 / (p.onResistance * 1e3));
  if (p.kind === 'diode') return 0.1 + ((named('Flint') ? 2.5 : 0.6) * p.recoveryCurrent * p.blockingVoltage) / 1e4;
  if (p.kind === 'inductor') return 0.4 + (named('ribbon') ? 0.3 : named('fine powder') ? 0.18 : 0.12) * p.coreVolume * 1e6;
  if (p.kind === 'transformer') return 0.8 + (named('Birch') ? 0.2 : 0.15) * p.coreVolume * 1e6;
  const joule = 0.5 * p.capacitance * p.ratedVoltage ** 2;
  return named('Slate', 'Chalk') ? 0.02 + 60 * joule : named('Heath') ? 0.3 + 8 * joule : 0.1 + 0.15 * joule;
}
/** How it is wound: inductors by core and turns, transformers in bundles, the secondary between halves of the primary. */
function wound(p: Part): Part {
  if (p.kind === 'transformer') return { ...p, winding: { windowHeight: round(Math.sqrt(p.windowArea / 0.36)), strandDiameter: p.windowArea > 4e-4 ? 0.00005 : p.windowArea > 9e-5 ? 0.000071 : 0.0001, interfaces: 2, insulation: 0.0001 } };
  if (p.kind !== 'inductor') return p;
  const material = MATERIALS.find((m) => m.name === p.part.replace(/^Pawl \d+/, '').replace(/, .*/, ''))!;
  const size = Number(p.part.split(/[ ,]/)[1]);
  return { ...p, ...windingOf(bareCore(CORES.find((c) => c[0] === size)!), size, p.turns, p.resistance, material.permeability) } as Part;
}
// What stood in the file before anything else keeps its resistance: designs were saved with it.
const all = [...kept.map((p) => ({ ...wound(Part.parse(p)), ...('resistance' in p ? { resistance: p.resistance } : {}) })), ...made.map((p) => wound(Part.parse(p)))].map((p) => Part.parse({ ...p, height: heightOf(p), costClass: costClassOf(p) }));
writeFileSync(file, `[\n${all.map((p) => JSON.stringify(p)).join(',\n')}\n]\n`);
writeGoods();
for (const kind of ['switch', 'diode', 'inductor', 'capacitor', 'transformer']) console.log(kind, all.filter((p) => p.kind === kind).length);

/** Sinks, wires and core materials: what does not stand in a place of the power stage. */
function writeGoods(): void {
  const sinks = [[30, 20], [50, 20], [50, 40], [75, 25], [75, 50], [100, 25], [100, 50], [100, 75], [150, 40], [150, 75], [200, 50], [200, 80]].map(([length, height]) => {
    const width = 40 + length! / 4;
    // Natural convection from the fins: some 6 W/m² K over a surface that goes with length and height.
    const surface = (2 * length! * height! * (width / 7) + length! * width) * 1e-6;
    return { kind: 'sink', part: `Ridge ${length}-${height}`, thermalResistance: round(1 / (6.5 * surface)), length: length! / 1000, width: round(width / 1000), height: height! / 1000 };
  });
  const bulk = [
    { kind: 'material', part: 'Alder', permeability: 2200, maxFluxDensity: 0.36, steinmetz: FERRITES[0]!.steinmetz },
    { kind: 'material', part: 'Birch', permeability: 1500, maxFluxDensity: 0.31, steinmetz: FERRITES[2]!.steinmetz },
    { kind: 'material', part: 'Cedar', permeability: 900, maxFluxDensity: 0.4, steinmetz: FERRITES[1]!.steinmetz },
    ...MATERIALS.slice(1).map((m, k) => ({ kind: 'material', part: ['Loam powder', 'Silt fine powder', 'Frost ribbon'][k]!, permeability: m.permeability, maxFluxDensity: m.maxFluxDensity, steinmetz: m.steinmetz })),
  ];
  const pads = [['Film 0.05', 0.00005, 0.9], ['Film 0.15', 0.00015, 1.6], ['Pad 0.3', 0.0003, 1.8], ['Pad 0.5', 0.0005, 3], ['Pad 1', 0.001, 3], ['Slab 0.6', 0.0006, 24], ['Grease', 0.00004, 0.8]].map(([name, thickness, conductivity]) => ({ kind: 'pad', part: `Drift ${name}`, thickness, conductivity }));
  const goods = [...sinks, ...SOLID, ...BUNDLES, ...FOILS, ...bulk, ...CORES.map(bareCore), ...pads].map((g) => Goods.parse(g));
  writeFileSync('shelf/goods.json', `[\n${goods.map((g) => JSON.stringify(g)).join(',\n')}\n]\n`);
}
