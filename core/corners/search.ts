import { uniformFloat64 } from 'pure-rand/distribution/uniformFloat64';
import { mersenne } from 'pure-rand/generator/mersenne';
import { costOf } from '../choice/suggest';
import type { Design, RequirementId } from '../design/schema';
import { evaluate, sizeDesign } from '../evaluation/evaluate';
import type { Problem, Result } from '../problem';
import { ok } from '../problem';
import { topologyOf } from '../design/topologyOf';
import type { OperatingPoint } from '../topology';
import { judge } from './corners';
import { designAt, shareOf, valueOf, wrongFreedoms, type Freedom } from './freedoms';
import { frontOf, ordered } from './front';
import { pointsOf, type RegionVerdict } from './worst';

/**
 * A search: values of a design within bounds, so that its requirements hold in the whole region and what is aimed at is as small as can be.
 *
 * Sources: Deb et al., "NSGA-II", IEEE Trans. Evolutionary Computation 6 (2002): ranks, crowding, what holds before what does not, simulated
 * binary crossover and polynomial mutation; Kolda, Lewis, Torczon, "Optimization by Direct Search", SIAM Review 45 (2003): steps along one
 * value from the best, halved; Blankenship, Falk, "Infinitely constrained optimization problems", J. Optim. Theory Appl. 19 (1976): a
 * region held by its worst points, to which those of what was found are added until it holds everywhere.
 */

/** What is aimed at, the smaller the better: W lost at the worst point, m of the tallest part, cost by classes, or a requirement as far within its limit as can be. */
export type Aim = 'loss' | 'height' | 'cost' | RequirementId;

export interface SearchAsked {
  freedoms: readonly Freedom[];
  aims: readonly Aim[];
  /** Of several aims: what trades (a front to choose from), one after another, or weighed */
  by: 'front' | 'order' | 'weights';
  weights?: readonly number[];
  seed: number;
  /** Designs that are judged at most */
  trials: number;
}

/** A design that was judged. Plain data. */
export interface Tried {
  shares: number[];
  /** Least room of each requirement over the points (negative: that share of its limit beyond it), and its figure there */
  room: Partial<Record<RequirementId, number>>;
  value: Partial<Record<RequirementId, number>>;
  /** Points without all figures */
  missing: number;
  /** In the order of what is aimed at */
  aims: number[];
  problem?: Problem;
}

export interface SearchFound {
  /** Designs judged, and of them those that hold at all points asked */
  tried: number;
  holding: number;
  /** The best that holds; the nearest where none does */
  best?: Tried;
  holds: boolean;
  /** Held in the whole region as well */
  everywhere: boolean;
  /** What none beats in all that is aimed at; where requirements exclude each other, in those */
  front: Tried[];
  /** Requirements that no design that was judged holds together, where none holds all */
  conflict?: RequirementId[];
  points: OperatingPoint[];
}

/** What a search wants to know, and what it has so far. */
export type Question = { so: SearchFound } & ({ judge: number[][]; points: OperatingPoint[] } | { region: Design });
export type Answer = Tried[] | RegionVerdict;

/** Designs of a generation; of them steps along one value; spreads of crossover and mutation (the larger the nearer); rounds of the region */
const [PEOPLE, STEPS, CROSSOVER, MUTATION, ROUNDS] = [16, 4, 10, 15, 3];
/** Aims by order: a share within which they are alike */
const ALIKE = 0.01;

/** A design judged at points, for a search. */
export function judged(d: Design, { freedoms, aims }: Pick<SearchAsked, 'freedoms' | 'aims'>, shares: number[], points: readonly OperatingPoint[]): Tried {
  const out: Tried = { shares, room: {}, value: {}, missing: 0, aims: aims.map(() => Infinity) };
  const made = designAt(d, freedoms, shares);
  if (!made.ok) return { ...out, missing: points.length, problem: made.problem };
  let loss = 0;
  for (const at of points) {
    const found = evaluate(made.value, at);
    const corner = judge(made.value, at, found);
    if (corner.problem) {
      out.missing++;
      out.problem ??= corner.problem;
    }
    if (found.ok) loss = Math.max(loss, found.value.losses.total);
    for (const { id, room, value } of corner.requirements) if (!(room >= (out.room[id] ?? Infinity))) [out.room[id], out.value[id]] = [room, value];
  }
  const chosen = new Set(freedoms.flatMap((f) => (f.kind === 'parts' ? [f.path.split('.')[1]!] : [])));
  out.aims = aims.map((aim) => aimOf(made.value, aim, loss, out, chosen));
  return out;
}

/** What a part counts as whose height (m) or cost nobody knows, where others could stand in its place: the last to be taken */
const [HEIGHT_UNKNOWN, COST_UNKNOWN] = [10, 1e12];

/** @param chosen slots in which the search chooses the part */
function aimOf(d: Design, aim: Aim, loss: number, { room }: Tried, chosen: ReadonlySet<string>): number {
  if (aim === 'loss') return loss;
  if (aim === 'height') return Math.max(0, ...Object.entries(d.parts).map(([slot, p]) => p.height ?? (chosen.has(slot) ? HEIGHT_UNKNOWN : 0)));
  if (aim !== 'cost') return -(room[aim] ?? -1);
  const { values } = sizeDesign(d);
  return topologyOf(d)!.slots.reduce((sum, { id, core, copies = 1 }) => {
    const part = d.parts[id]!;
    if (core) return sum;
    if (part.costClass === undefined) return sum + (chosen.has(id) ? COST_UNKNOWN : 0);
    return sum + costOf(part, copies * (values[id]?.count ?? ('count' in part ? (part.count ?? 1) : 1)));
  }, 0);
}

/** The share of limits that a design is beyond, summed; a point without figures counts as ten. */
const beyond = (t: Tried): number => 10 * t.missing + Object.values(t.room).reduce((sum, r) => sum + Math.max(0, -r), 0);
const holds = (t: Tried): boolean => t.missing === 0 && beyond(t) === 0;

/** What is wrong with what a search is asked; undefined where nothing is. */
export function wrongSearch(d: Design, { freedoms, aims, by, weights, trials }: SearchAsked): Problem | undefined {
  const free = wrongFreedoms(d, freedoms);
  if (free) return free;
  const wrong = (where: string, message: string, remedy: string): Problem => ({ code: 'search', where, message, remedy });
  const off = aims.find((a) => a in d.requirements && !d.requirements[a as RequirementId].on);
  if (off) return wrong('aims', `the ${off} is not asked for`, 'switch its requirement on, or aim at something else');
  if (by === 'weights' && (weights?.length !== aims.length || !weights.every((w) => w > 0))) return wrong('weights', 'each aim wants a weight above zero', 'give as many weights as aims');
  if (!(Number.isInteger(trials) && trials >= PEOPLE && trials <= 100_000)) return wrong('trials', `${trials} is no number of designs to judge`, `give ${PEOPLE} to 100,000`);
  return undefined;
}

/**
 * A search as a conversation: it asks for designs to be judged and for regions, in an order that depends on what it was told and on its
 * seed alone, whoever answers and with how many workers. Told the same answers again, it is where it was.
 *
 * @param begin the region's verdict of the design it begins with
 */
export function* searching(d: Design, asked: SearchAsked, begin: RegionVerdict): Generator<Question, SearchFound, Answer> {
  const { freedoms } = asked;
  let points = pointsOf(begin.worst);
  let known = new Map<string, Tried>();
  let people: Tried[] = [];
  let everywhere = false;
  const keyOf = (shares: readonly number[]): string => JSON.stringify(freedoms.map((f, k) => { const v = valueOf(f, shares[k]!); return typeof v === 'object' ? v.part : v; }));
  const random = generatorOf(asked.seed);
  const so = (): SearchFound => foundOf([...known.values()], asked, points, everywhere);
  // Judge those that were not yet, and keep the best of all.
  function* see(all: number[][]): Generator<Question, void, Answer> {
    const fresh = new Map(all.flatMap((s) => (known.has(keyOf(s)) ? [] : [[keyOf(s), s] as const])));
    if (fresh.size > 0) {
      const tried = (yield { so: so(), judge: [...fresh.values()], points }) as Tried[];
      [...fresh.keys()].forEach((key, k) => known.set(key, tried[k]!));
      people = [...people, ...tried];
    }
    people = rank(people, asked, conflictOf([...known.values()])).slice(0, PEOPLE);
  }
  const start = freedoms.map((f) => shareOf(f, d));
  yield* see([start, ...latin(PEOPLE - 1, freedoms.length, random)]);
  for (let generation = 0, round = 0, idle = 0; known.size < asked.trials && idle < 8; generation++) {
    const best = people[0]!;
    if (holds(best) && (asked.aims.length === 0 || generation % 8 === 7 || known.size + PEOPLE >= asked.trials)) {
      const made = designAt(d, freedoms, best.shares);
      const verdict = made.ok ? ((yield { so: so(), region: made.value }) as RegionVerdict) : undefined;
      everywhere = verdict?.holds === true;
      if (everywhere && asked.aims.length === 0) return so();
      const more = verdict && !everywhere && round < ROUNDS ? pointsOf(verdict.worst.filter((w) => !w.holds)) : [];
      if (more.length > 0) {
        // What it fails at is asked from now on, of those that stand as well.
        round++;
        points = pointsOf([...points, ...more].map((at) => ({ at })));
        const again = people.map((p) => p.shares);
        known = new Map();
        people = [];
        yield* see(again);
        continue;
      }
    }
    const before = known.size;
    yield* see([...steps(best.shares, generation, random), ...children(people, PEOPLE - STEPS, random)]);
    idle = known.size === before ? idle + 1 : 0;
  }
  // What is best at the end is held against the whole region too.
  const [best] = people;
  const made = best && holds(best) ? designAt(d, freedoms, best.shares) : undefined;
  everywhere = made?.ok === true && ((yield { so: so(), region: made.value }) as RegionVerdict).holds;
  return so();
}

/** What all that was judged says. */
export function foundOf(all: readonly Tried[], asked: SearchAsked, points: OperatingPoint[], everywhere: boolean): SearchFound {
  const conflict = conflictOf(all);
  const best = rank(all, asked, undefined)[0];
  const holding = all.filter(holds);
  const pool = holding.length > 0 ? holding : all.filter((t) => t.missing === 0);
  const of = holding.length > 0 ? pool.map((t) => t.aims) : pool.map((t) => (conflict ?? []).map((id) => -(t.room[id] ?? -1)));
  const front = (holding.length > 0 ? asked.aims.length > 1 : (conflict?.length ?? 0) > 1) ? frontOf(of).map((i) => pool[i]!) : [];
  return { tried: all.length, holding: holding.length, ...(best ? { best } : {}), holds: holding.length > 0, everywhere: holding.length > 0 && everywhere, front, ...(conflict ? { conflict } : {}), points: [...points] };
}

/** Best first: what holds by what is aimed at, then what does not by how far it is beyond, or by what excludes each other. */
function rank(all: readonly Tried[], { aims, by, weights = [] }: SearchAsked, conflict: readonly RequirementId[] | undefined): Tried[] {
  const [good, bad] = [all.filter(holds), all.filter((t) => !holds(t))];
  const room = (t: Tried): number => Math.min(1, ...Object.values(t.room));
  const scale = aims.map((_, k) => Math.abs(good[0]?.aims[k] ?? 1) || 1);
  const scalar = (t: Tried): number => t.aims.reduce((sum, v, k) => sum + ((weights[k] ?? 1) * v) / scale[k]!, 0);
  const inOrder = (a: Tried, b: Tried): number => {
    for (const [k, v] of a.aims.entries()) if (Math.abs(v - b.aims[k]!) > ALIKE * scale[k]!) return v - b.aims[k]!;
    return scalar(a) - scalar(b);
  };
  const first = aims.length === 0 ? good.toSorted((a, b) => room(b) - room(a)) : by === 'order' ? good.toSorted(inOrder) : by === 'weights' || aims.length === 1 ? good.toSorted((a, b) => scalar(a) - scalar(b)) : ordered(good.map((t) => t.aims)).map((i) => good[i]!);
  const second = conflict && conflict.length > 1 ? ordered(bad.map((t) => [...conflict.map((id) => Math.max(0, -(t.room[id] ?? -1))), beyond(t)])).map((i) => bad[i]!) : bad.toSorted((a, b) => beyond(a) - beyond(b));
  return [...first, ...second];
}

/** The fewest requirements, three at most, that none of the designs holds together; undefined where one holds all. */
export function conflictOf(all: readonly Tried[]): RequirementId[] | undefined {
  const whole = all.filter((t) => t.missing === 0);
  if (whole.length === 0 || whole.some(holds)) return undefined;
  const failing = [...new Set(whole.flatMap((t) => Object.keys(t.room) as RequirementId[]))].filter((id) => whole.some((t) => t.room[id]! < 0));
  const excluded = (ids: readonly RequirementId[]): boolean => whole.every((t) => ids.some((id) => t.room[id]! < 0));
  for (const [i, a] of failing.entries()) if (excluded([a])) return [failing[i]!];
  for (const [i, a] of failing.entries()) for (const b of failing.slice(i + 1)) if (excluded([a, b])) return [a, b];
  for (const [i, a] of failing.entries()) for (const [j, b] of failing.entries()) for (const c of failing.slice(Math.max(i, j) + 1)) if (j > i && excluded([a, b, c])) return [a, b, c];
  return failing;
}

type Random = () => number;
function generatorOf(seed: number): Random {
  const generator = mersenne(seed | 0);
  return () => uniformFloat64(generator);
}

/** So many places in a cube, one in each of as many layers of every side (latin hypercube: McKay, Beckman, Conover, Technometrics 21, 1979). */
function latin(count: number, sides: number, random: Random): number[][] {
  const layers = Array.from({ length: sides }, () => {
    const order = Array.from({ length: count }, (_, k) => k);
    for (let k = count - 1; k > 0; k--) {
      const j = Math.floor(random() * (k + 1));
      [order[k], order[j]] = [order[j]!, order[k]!];
    }
    return order.map((k) => (k + random()) / count);
  });
  return Array.from({ length: count }, (_, k) => layers.map((l) => l[k]!));
}

const within = (v: number): number => Math.min(1 - 1e-9, Math.max(0, v));

/** Steps from a place along one of its sides each, both ways, smaller from generation to generation. */
function steps(from: readonly number[], generation: number, random: Random): number[][] {
  const size = 0.25 * 0.8 ** generation;
  return Array.from({ length: STEPS }, (_, k) => {
    const side = Math.floor(random() * from.length);
    return from.map((v, i) => (i === side ? within(v + (k % 2 ? size : -size)) : v));
  });
}

/** Children of two that are drawn by their order each: simulated binary crossover, then polynomial mutation. */
function children(people: readonly Tried[], count: number, random: Random): number[][] {
  const parent = (): readonly number[] => people[Math.min(Math.floor(random() * people.length), Math.floor(random() * people.length))]!.shares;
  return Array.from({ length: count }, () => {
    const [a, b] = [parent(), parent()];
    return a.map((v, k) => {
      const u = random();
      const beta = u < 0.5 ? (2 * u) ** (1 / (CROSSOVER + 1)) : (1 / (2 * (1 - u))) ** (1 / (CROSSOVER + 1));
      const spread = random() < 0.5 ? beta : -beta;
      const crossed = random() < 0.9 ? ((1 + spread) * v + (1 - spread) * b[k]!) / 2 : v;
      if (random() >= 1 / a.length) return within(crossed);
      const w = random();
      return within(crossed + (w < 0.5 ? (2 * w) ** (1 / (MUTATION + 1)) - 1 : 1 - (2 * (1 - w)) ** (1 / (MUTATION + 1))));
    });
  });
}

/**
 * A whole search, answered here.
 * @param region what the worst points of a design are
 * @param told what is there so far, before each answer; true stops
 * @returns what it found; problems "freedom" and "search" where it can not be begun
 */
export function search(d: Design, asked: SearchAsked, region: (d: Design) => RegionVerdict, told?: (so: SearchFound) => boolean | void): Result<SearchFound> {
  const wrong = wrongSearch(d, asked);
  if (wrong) return { ok: false, problem: wrong };
  const conversation = searching(d, asked, region(d));
  let said = conversation.next();
  while (!said.done) {
    const { value } = said;
    if (told?.(value.so)) return ok(value.so);
    said = conversation.next('judge' in value ? value.judge.map((shares) => judged(d, asked, shares, value.points)) : region(value.region));
  }
  return ok(said.value);
}
