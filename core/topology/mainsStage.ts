import { heldCommand } from '../control/held';
import { LINE } from '../surroundings/line';
import { crestOf, type MainsFed } from '../surroundings/mains';
import { dutyNear, ratings } from './common';
import { behindRectifier, movesWithin } from './onMains';
import { putReservoir, RESERVOIR, reservoirValue } from './reservoir';
import type { Drawing, Forecast, Signal, Sizing, SizingInput, Slot, Topology } from './types';

/**
 * A topology for a dc line made one for the mains: a rectifier before it, its input capacitor a small film one, its output capacitor
 * the reservoir. It is sized as it stands at the crest, where it carries twice the mean power; where its duty is held over
 * the mains, for as much ripple as makes it come to rest in every period, also at the crest of the lowest line and full load.
 * Source: Erickson, Maksimović, "Fundamentals of Power Electronics", ch. 18.
 */
export interface MainsStage {
  id: string;
  title: string;
  inner: Topology;
  /** Slot of the rectifier's diodes */
  rectifier: string;
  /** As of MainsFed */
  pulsed?: true;
  rests?: string;
  /** The element whose current is drawn, where that is not the line's source itself */
  draws?: string;
  /** Slots that the forecast only estimates along the mains */
  estimates?: readonly string[];
  /** A drawn by what its parts carry */
  drawnBy(parts: Forecast['parts']): number;
  drawing: Drawing;
}

/** Least rectified voltage that is drawn on, as a share of the output (below it a stage that steps up and down wants more duty than losses leave), and rad from the zero crossing: what is left out is a few ten thousandths of the power */
const [LEAST, FROM] = [0.08, 0.05];
/** Share of the duty of the border that it is sized for where its duty is held */
const RESTS = 0.88;
/** Rounds of looking for the ripple share that this wants */
const ROUNDS = 3;

/** Units from the mains to the rectifier, and by which all behind it moves */
const [TO, ROOM] = [105, 180];

/** A dc stage's drawing with a rectifier where its source stood, and the mains before that. @param carries the slot whose current runs behind it */
export function withRectifier(d: Drawing, rectifier: string, carries: string): Drawing {
  const source = d.symbols.find((s) => s.symbol === 'source')!;
  const ends = d.wires.flatMap((w) => w.points).filter(([x]) => x === source.x).map(([, y]) => y);
  const [top, bottom] = [Math.min(...ends), Math.max(...ends)];
  const { x, y } = source;
  // The wires of the source begin at the rectifier.
  const moved = ([px, py]: readonly [number, number]): readonly [number, number] => [px === x ? x + TO : px + ROOM, py];
  return {
    width: d.width + ROOM,
    height: d.height,
    symbols: [{ ...source, symbol: 'mains' }, ...d.symbols.map((s) => (s === source ? { ...s, id: rectifier, symbol: 'rectifier' as const, x: x + TO } : { ...s, x: s.x + ROOM }))],
    wires: [top, bottom].map((end): Drawing['wires'][number] => ({ points: [[x, y], [x, end], [x + TO, end], [x + TO, y]], carries: 'line' })).concat(d.wires.map((w) => ({ points: w.points.map(moved), carries: w.carries === 'line' ? carries : w.carries }))),
    dots: d.dots.map(moved),
  };
}

/** A stage for a dc line behind a rectifier. */
export function mainsStage({ id, title, inner, rectifier, pulsed, rests, draws, estimates, drawnBy, drawing }: MainsStage): Topology {
  const atCrest = (input: SizingInput, rippleShare: number): SizingInput => {
    const { line, load, loadStep } = input.brief;
    return { ...input, brief: { ...input.brief, line: { min: crestOf(line.min), max: crestOf(line.max) }, load: { min: 2 * load.min, max: 2 * load.max }, loadStep, rippleShare } };
  };
  /** The inner stage's input: with the ripple share that its way of being driven wants. */
  const made = new WeakMap<SizingInput, SizingInput>();
  function innerInput(input: SizingInput): SizingInput {
    const known = made.get(input);
    if (known) return known;
    const held = heldCommand(input.control) ?? (pulsed ? 'duty' : undefined);
    let found = atCrest(input, input.brief.rippleShare);
    // The square of the duty at the border goes with the inductance, and that inversely with the share.
    for (let round = 0; held && round < ROUNDS; round++) {
      const { line, load, rippleShare } = found.brief;
      const { border = 0 } = inner.forecast(found, inner.size(found), { line: line.min, load: load.max });
      const wanted = held === 'duty' ? 1 / RESTS - 1 : 0;
      found = atCrest(input, Math.min(20, Math.max(0.01, rippleShare * ((1 + wanted) / (1 + border)) ** 2)));
    }
    made.set(input, found);
    return found;
  }
  const fed: Omit<MainsFed, 'switch'> = { rectifier, reservoir: 'C2', least: LEAST, from: FROM, ...(pulsed ? { pulsed } : {}), ...(rests ? { rests } : {}) };
  const { atAngle, borderAt, levelAt, fedBy, forecast } = behindRectifier({ inner, phases: 1, fed, innerInput, drawnBy, ...(estimates ? { estimates } : {}) });

  const slots: Slot[] = [
    { id: rectifier, kind: 'diode', title: 'rectifier diode', purpose: 'two of the four carry the line current in each half cycle', copies: 4 },
    ...inner.slots.map((p): Slot => (p.id === 'C1' ? { ...p, title: 'film capacitor', purpose: 'holds the ripple of the switching behind the rectifier' } : p.id === 'C2' ? { ...p, title: 'reservoir', purpose: 'takes the power that beats at twice the mains frequency', beats: true } : p)),
  ];

  function size(input: SizingInput): Sizing {
    const own = innerInput(input);
    const sizing = inner.size(own);
    const { line, load, output } = input.brief;
    const most = Object.fromEntries(Object.entries(sizing.blocking).map(([slot, { most: volts }]) => [slot, volts]));
    return {
      ...sizing,
      values: { ...sizing.values, C2: reservoirValue(input, 'C2', 2 * load.max) },
      blocking: ratings(input, { ...most, [rectifier]: crestOf(line.max), C2: output.voltage + input.allowed.ripple / 2 }),
    };
  }

  return {
    id, title, slots, size, forecast, drawing,
    ...(inner.isolated ? { isolated: true as const } : {}),
    ...(inner.windings ? { windings: inner.windings } : {}),
    refuses: (brief) => movesWithin(brief) ?? inner.refuses({ ...brief, line: { min: crestOf(brief.line.min), max: crestOf(brief.line.max) } }),
    rightHalfPlaneZero: () => undefined,
    // Slow against the mains where its command is held; a current loop's else.
    crossoverLimit: ({ brief, control }) => (pulsed || heldCommand(control) ? brief.line.mains! / 5 : brief.frequency / 12),
    stage(f, input, sizing, point) {
      inner.stage(f, innerInput(input), sizing, point);
      putReservoir(f, input, sizing, 'C2', f.outputs[0]!.nodes as [string, string]);
      f.inStep(draws ?? LINE, 'C2');
      f.aside(rectifier, { leg: LINE });
    },
    duty: (input, sizing, point) => dutyNear(atAngle(input, sizing, point).forecast.duty, 0.98),
    start(input, sizing, point) {
      const { volts, fed: amps } = atAngle(input, sizing, point);
      return { ...inner.start(innerInput(input), sizing, { line: volts, load: amps, air: point.air }), [RESERVOIR]: amps - point.load };
    },
    signals: [...inner.signals.map((s): Signal => (s.id === 'output' ? { ...s, title: 'Output, switching' } : s)), { id: 'rectified', title: 'Rectified line', unit: 'V', of: { voltage: [LINE] } }],
    mains: { ...fed, switch: 'Q1', drawnAt: (input, sizing, point) => atAngle(input, sizing, point).drawn, borderAt, levelAt, fedBy },
    landmarks: (input, sizing, point) => {
      const { volts, fed: amps } = atAngle(input, sizing, point);
      return inner.landmarks(innerInput(input), sizing, { line: volts, load: amps, air: point.air });
    },
  };
}
