import { heldCommand, leastOff, POWER, type HeldCommand } from '../control/held';
import { slopeResistance, type DiodePart } from '../parts/schema';
import type { Problem } from '../problem';
import { printQuantity as print } from '../quantity';
import { recent } from '../recent';
import { ANGLES, crestOf, drawnFrom, mainsAngles, outputRipple, overMains, rectified, type MainsFed } from '../surroundings/mains';
import type { Brief, OperatingPoint } from '../surroundings/brief';
import type { Carried } from './pieces';
import type { Forecast, Sizing, SizingInput, Topology } from './types';

/**
 * A stage for a dc line behind a rectifier, seen slowly: at an angle θ of the mains it stands on √2 V |sin θ|. What it draws there is either
 * shaped by a loop, I sin θ, or follows from a command that is the same at all angles (control/held.ts); I, or the command,
 * is such that the load gets what it takes over the mains. A reservoir takes the rest.
 * Source: Erickson, Maksimović, "Fundamentals of Power Electronics", ch. 18.
 */
export interface Behind {
  /** The stage on a dc line, and how much of it there is: so many alike, each with its share */
  inner: Topology;
  phases: number;
  /** Slot of the rectifier's diodes, and of the capacitor that holds what beats with the mains */
  fed: Pick<MainsFed, 'rectifier' | 'reservoir' | 'least' | 'from' | 'conducting' | 'pulsed'>;
  /** What the inner stage is asked, in the place of what the whole is */
  innerInput(input: SizingInput): SizingInput;
  /** Slots that are only estimated along the mains */
  estimates?: readonly string[];
  /** A drawn from the line by what its parts carry, of one phase */
  drawnBy(parts: Forecast['parts']): number;
}

/** Where a stage on the mains stands, and by what: A crest that is drawn, or the command that is held. */
export type MainsPoint = Pick<OperatingPoint, 'line' | 'load' | 'angle' | 'drawn' | 'command'>;

/** The stage at one angle. */
interface Stood {
  /** V that it stands on, A fed to the output and drawn from the line */
  volts: number;
  fed: number;
  drawn: number;
  /** s of the switching */
  period: number;
  /** Its current would not come to rest with such a duty */
  goesOn?: true;
  /** Of one phase */
  forecast: Forecast;
}

/** A leg of the rectifier conducts every other half cycle and carries the mean of what is drawn. */
const legOf = (drawn: number): Carried => ({ mean: drawn / 2, rms: drawn / Math.SQRT2, peak: drawn, peakToPeak: drawn });
/** The reservoir at an angle: the ripple of the switching, and the slow current. */
const reservoirOf = (fast: Carried, slow: number): Carried => ({ mean: 0, rms: Math.hypot(fast.rms, slow), peak: fast.peak + Math.abs(slow), peakToPeak: fast.peakToPeak });

/** Slots whose stress is that of one phase alone; what capacitors carry of several is only estimated. */
const SHARED = new Set(['C1', 'C2']);
/** Angles that a command held is told at */
const FOLLOWING = 5;
/** Points of a sizing input that are kept solved: forecasts are asked for many times over while parts are chosen */
const MOST_SOLVED = 200;

/** Switching frequency over that of the mains, at least: the mains stands still meanwhile */
const SLOWER = 100;

/** Why the mains moves within a switching period; undefined where it does not. */
export const movesWithin = ({ line, frequency }: Brief): Problem | undefined =>
  frequency < SLOWER * line.mains!
    ? { code: 'impossible', where: 'brief.frequency', message: `${print(frequency, 'Hz')} is less than ${SLOWER} times the mains, which then moves within a switching period`, remedy: `choose ${print(SLOWER * line.mains!, 'Hz')} or more` }
    : undefined;

/** The forecasts of a stage behind a rectifier. */
export function behindRectifier({ inner, phases: n, fed, innerInput, estimates = [], drawnBy }: Behind) {
  const { rectifier, reservoir, pulsed } = fed;
  const bridgeOf = (input: SizingInput): DiodePart => input.parts[rectifier] as DiodePart;
  /** What its control holds all along the mains; nothing where a loop shapes the current. */
  const holds = (input: SizingInput): HeldCommand | undefined => heldCommand(input.control) ?? (pulsed ? 'duty' : undefined);
  type At = Pick<OperatingPoint, 'line' | 'load'>;

  /** On so many volts, drawing a mean: what it feeds the output is found by what it draws. */
  function shaped(input: SizingInput, sizing: Pick<Sizing, 'values'>, volts: number, mean: number, near?: Pick<Stood, 'fed' | 'drawn'>): Stood {
    let out = near ? (near.fed * mean) / near.drawn : (volts * mean) / input.brief.output.voltage;
    let forecast = inner.forecast(input, sizing, { line: volts, load: out / n });
    // What is fed goes with what is drawn but for losses: some rounds of the rule of proportion.
    for (let round = 0; round < 8; round++) {
      const ratio = mean / n / drawnBy(forecast.parts);
      if (Math.abs(ratio - 1) < 1e-9) break;
      out *= ratio;
      forecast = inner.forecast(input, sizing, { line: volts, load: out / n });
    }
    return { volts, fed: out, drawn: mean, period: 1 / input.brief.frequency, forecast };
  }

  /** Share of the load at the border that counts as resting for a moment still */
  const NEARLY = 1e-6;
  /** Share within which what is held by a command agrees with it: parts are sized by it */
  const CLOSE = 1e-7;
  /** Share within which it counts as at the border */
  const AT_BORDER = 1e-3;

  /** What a stage that holds its command is found from: where it stood with another, or a rough first guess. */
  interface Guess {
    fed: number;
    period: number;
  }

  /** On so many volts, with a duty: in discontinuous conduction what is fed goes with its square. It has an end where the current no longer rests. */
  function withDuty(input: SizingInput, sizing: Pick<Sizing, 'values'>, volts: number, duty: number, guess?: Guess): Stood {
    const { output, frequency } = input.brief;
    let out = guess?.fed ?? (duty ** 2 * volts) / frequency / 1e-3 / output.voltage;
    let forecast = inner.forecast(input, sizing, { line: volts, load: out / n });
    for (let round = 0; round < 30; round++) {
      // Beyond the border it is brought back to that; below it the square of the duty says how far it is off.
      const ratio = forecast.mode === 'continuous' ? (1 + forecast.border!) ** 2 * (1 - NEARLY) : (duty / forecast.duty) ** 2;
      if (Math.abs(ratio - 1) < CLOSE || (forecast.mode === 'continuous' && Math.abs(forecast.border!) < 2 * NEARLY && duty > forecast.duty)) break;
      out *= ratio;
      forecast = inner.forecast(input, sizing, { line: volts, load: out / n });
    }
    return { volts, fed: out, drawn: n * drawnBy(forecast.parts), period: 1 / frequency, ...(forecast.border! < AT_BORDER && duty > forecast.duty * (1 + AT_BORDER) ? { goesOn: true as const } : {}), forecast };
  }

  /** On so many volts, on for so many seconds of each period, which ends as the current has come to rest: the border of the modes at a frequency that follows. */
  function critical(input: SizingInput, sizing: Pick<Sizing, 'values'>, volts: number, on: number, guess?: Guess): Stood {
    const { output } = input.brief;
    const rough = (): number => (volts ** 2 * on) / sizing.values[inner.slots.find((p) => p.kind === 'inductor' || p.kind === 'transformer')!.id]!.taken / 2 / output.voltage;
    let [frequency, out] = [guess ? 1 / guess.period : input.brief.frequency, guess?.fed ?? rough()];
    const at = (): Forecast => inner.forecast({ ...input, brief: { ...input.brief, frequency } }, sizing, { line: volts, load: out });
    let forecast = at();
    for (let round = 0; round < 40; round++) {
      const [faster, more] = [forecast.duty / on / frequency, (1 + forecast.border!) ** 2];
      if (Math.abs(faster - 1) < CLOSE && Math.abs(more - 1) < CLOSE) break;
      frequency *= faster;
      // What is at the border goes with the period.
      out *= more / faster;
      forecast = at();
    }
    // Kept off for longer than that, it rests in between.
    const least = leastOff(input.control, input.brief.frequency);
    if (1 / frequency - on < least) {
      const slower = 1 / (on + least);
      return withDuty({ ...input, brief: { ...input.brief, frequency: slower } }, sizing, volts, on * slower, { fed: out * slower / frequency, period: 1 / slower });
    }
    return { volts, fed: out, drawn: drawnBy(forecast.parts), period: 1 / frequency, forecast };
  }

  /** The stage at an angle, by what it is driven with. */
  function standing(given: SizingInput, sizing: Pick<Sizing, 'values'>, line: number, angle: number, by: { crest: number } | { command: number }, near?: Stood & { level: number }): Stood {
    const input = innerInput(given);
    const [bridge, ohms] = [bridgeOf(given), slopeResistance(bridgeOf(given))];
    const volts = (drawn: number): number => rectified(bridge, line, angle, drawn, ohms, fed.conducting);
    if ('crest' in by) return shaped(input, sizing, volts(by.crest * Math.sin(angle)), by.crest * Math.sin(angle), near);
    const held = holds(given)!;
    const find = held === 'duty' ? withDuty : critical;
    const more = near ? (by.command / near.level) ** POWER[held] : 1;
    const first = near ? { fed: near.fed * more, drawn: near.drawn * more, period: held === 'duty' ? near.period : near.period * more } : find(input, sizing, volts(0), by.command);
    return find(input, sizing, volts(first.drawn), by.command, first);
  }

  interface Angled extends Stood {
    angle: number;
    weight: number;
  }
  interface Quarter {
    /** A crest drawn, or the command held */
    level: number;
    at: Angled[];
  }

  /** The stage at each angle by its forecast, driven such that the load gets what it takes. */
  function quarterCycle(input: SizingInput, sizing: Pick<Sizing, 'values'>, point: At): Quarter {
    const held = holds(input);
    const begin = drawnFrom(fed, bridgeOf(input), point.line, input.brief.output.voltage);
    // What follows the line by itself is smooth along it: fewer angles say as much.
    const list = mainsAngles(begin, held ? FOLLOWING : ANGLES);
    const power = held ? POWER[held] : 1;
    let level = held === undefined ? (2 * input.brief.output.voltage * point.load) / crestOf(point.line) : held === 'duty' ? 0.2 : 0.2 / input.brief.frequency;
    let at: Angled[] = [];
    let before = level;
    for (let round = 0; round < 12; round++) {
      at = list.map(({ angle, weight }, k) => ({ angle, weight, ...standing(input, sizing, point.line, angle, held ? { command: level } : { crest: level }, at[k] && { ...at[k], level: before }) }));
      before = level;
      const ratio = point.load / at.reduce((s, a) => s + a.weight * a.fed, 0);
      if (Math.abs(ratio - 1) < (held ? 1e-6 : 1e-8)) break;
      level *= ratio ** (1 / power);
    }
    return { level, at };
  }

  /** What has been solved of late for an input, by its sizes and a key besides. */
  function ofLate<V extends object>(most: number): (input: SizingInput, sizing: Pick<Sizing, 'values'>, key: string, solve: () => V) => V {
    const solved = new WeakMap<SizingInput, ReturnType<typeof recent<string, V>>>();
    return (input, sizing, key, solve) => {
      const find = solved.get(input) ?? recent<string, V>(most);
      solved.set(input, find);
      return find(`${key} ${Object.values(sizing.values).map((v) => v.taken).join(' ')}`, solve);
    };
  }

  const quarters = ofLate<Quarter>(MOST_SOLVED);
  const quarter = (input: SizingInput, sizing: Pick<Sizing, 'values'>, point: At): Quarter => quarters(input, sizing, `${point.line} ${point.load}`, () => quarterCycle(input, sizing, point));

  // One view of a point asks for it several times.
  const angles = ofLate<Stood>(1);
  /** The stage at the angle of a point, the crest where it says none, driven as it says or as the forecast has it. */
  function atAngle(input: SizingInput, sizing: Pick<Sizing, 'values'>, point: MainsPoint): Stood {
    const angle = point.angle ?? Math.PI / 2;
    const level = point.drawn ?? point.command ?? quarter(input, sizing, point).level;
    return angles(input, sizing, `${point.line} ${angle} ${level}`, () => standing(input, sizing, point.line, angle, holds(input) ? { command: level } : { crest: level }));
  }

  /** What is the same all along the mains: A, crest of the current where a loop shapes it, or the command that is held. */
  const levelAt = (input: SizingInput, sizing: Pick<Sizing, 'values'>, point: At): number => quarter(input, sizing, point).level;

  /** How far the stage is from where its mode changes, as a share, at the angle of a point: nothing there. One that has but one mode changes what it does where its least current is nothing. */
  function borderAt(input: SizingInput, sizing: Pick<Sizing, 'values'>, point: MainsPoint): number {
    const { border, parts } = atAngle(input, sizing, point).forecast;
    return border ?? (parts.L1 ? parts.L1.peakToPeak / 2 / parts.L1.mean - 1 : NaN);
  }

  /** A fed to the output over the mains by a command. */
  function fedBy(input: SizingInput, sizing: Pick<Sizing, 'values'>, line: number, command: number): number {
    const begin = drawnFrom(fed, bridgeOf(input), line, input.brief.output.voltage);
    return mainsAngles(begin, FOLLOWING).reduce((sum, { angle, weight }) => sum + weight * standing(input, sizing, line, angle, { command }).fed, 0);
  }

  function forecast(input: SizingInput, sizing: Pick<Sizing, 'values'>, point: MainsPoint): Forecast {
    const { level, at } = quarter(input, sizing, point);
    const here = atAngle(input, sizing, point);
    const parts: Record<string, Carried & { estimate?: true }> = {};
    const over = (id: string, of: (a: Angled) => Carried): void => {
      const estimate = (n > 1 && SHARED.has(id)) || estimates.includes(id) || ((pulsed || id !== 'C1') && at.some((a) => a.forecast.parts[id]?.estimate === true));
      parts[id] = { ...overMains(at.map((a) => ({ angle: a.angle, weight: a.weight, duty: { ...of(a), voltage: 0 } })), id === reservoir ? point.load : 0), ...(estimate ? { estimate: true as const } : {}) };
    };
    over(rectifier, (a) => legOf(a.drawn));
    for (const id of Object.keys(here.forecast.parts)) over(id, (a) => (id === reservoir ? reservoirOf(a.forecast.parts[id]!, a.fed - point.load) : a.forecast.parts[id]!));
    return {
      mode: here.forecast.mode, border: here.forecast.border, duty: here.forecast.duty,
      outputRipple: outputRipple(sizing.values[reservoir]!.taken, input.brief.line.mains!, at.map((a) => ({ ...a, fast: a.forecast.outputRipple }))).peakToPeak, ...(n > 1 || holds(input) ? { rippleEstimate: true as const } : {}),
      crest: holds(input) ? at.at(-1)!.drawn : level, ...(holds(input) ? { command: level, period: here.period } : {}), ...(at.some((a) => a.goesOn) ? { goesOn: true as const } : {}), parts,
    };
  }

  return { atAngle, borderAt, levelAt, fedBy, forecast };
}
