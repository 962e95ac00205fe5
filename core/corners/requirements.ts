import { hottestOf } from '../thermal/network';
import type { Design, RequirementId } from '../design/schema';
import type { Figures } from '../evaluation/figures';
import type { UnitName } from '../quantity';

/** A requirement: a figure, a direction, and how much room it leaves. */
export interface Requirement {
  id: RequirementId;
  title: string;
  /** In a word or two, for chips and cells */
  short: string;
  unit: UnitName;
  direction: 'at most' | 'at least';
  /** The stage whose reed it moves */
  stage: 'power-stage' | 'waveforms' | 'loop' | 'losses' | 'heat';
  value(f: Figures, d: Design): number;
  /** Not asked at this point when false */
  applies?(f: Figures, d: Design): boolean;
  /** Where the scale of the room begins: 25 °C for temperatures, 1 for an efficiency; 0 else */
  origin?: number;
}

/** m, of the parts whose height is known */
const heights = (d: Design): number[] => Object.values(d.parts).flatMap((p) => p.height ?? []);

/** What is drawn from the mains is asked at full load. */
const onFullMains = (f: Figures, d: Design): boolean => d.brief.line.mains !== undefined && atFullLoad(f, d);

/** Those that want the whole circuit settled over a cycle of the mains */
export const ON_WHOLE_MAINS: readonly RequirementId[] = ['powerFactor', 'distortion', 'harmonics'];

/** At full load it is loudest. */
const atFullLoad = (f: Figures, d: Design): boolean => f.point.load >= d.brief.load.max * (1 - 1e-9);

const hottest = (f: Figures, spot: 'junction' | 'winding'): number =>
  f.problems.heat ? Infinity : Math.max(...f.heat.rungs.filter((r) => r.spot === spot).map(hottestOf));

export const REQUIREMENTS: readonly Requirement[] = [
  {
    id: 'ripple',
    title: 'output ripple', short: 'ripple',
    unit: 'V',
    direction: 'at most',
    stage: 'waveforms',
    value: (f) => f.cycle.outputRipple,
  },
  {
    id: 'deviation',
    title: 'load-step deviation', short: 'load step',
    unit: 'V',
    direction: 'at most',
    stage: 'loop',
    value: (f) => f.loop?.deviation ?? NaN,
  },
  {
    id: 'lineDeviation',
    title: 'line-step deviation', short: 'line step',
    unit: 'V',
    direction: 'at most',
    stage: 'loop',
    value: (f) => f.loop?.line?.deviation ?? NaN,
    applies: (f, d) => f.loop?.line !== undefined || (f.loop === undefined && d.brief.lineStep !== undefined),
  },
  { id: 'phaseMargin', title: 'phase margin', short: 'phase margin', unit: '°', direction: 'at least', stage: 'loop', value: (f) => f.loop?.phaseMargin ?? NaN },
  { id: 'gainMargin', title: 'gain margin', short: 'gain margin', unit: 'dB', direction: 'at least', stage: 'loop', value: (f) => (f.loop ? Math.min(f.loop.gainMargin, f.loop.falls?.by ?? Infinity) : NaN) },
  {
    id: 'lowGain', title: 'loop gain at low frequencies', short: 'low gain', unit: 'dB', direction: 'at least', stage: 'loop',
    value: (f) => f.loop?.lowGain?.gain ?? NaN,
    applies: (_, d) => d.brief.gainUpTo !== undefined,
  },
  {
    id: 'impedance', title: 'output impedance of its mask', short: 'impedance', unit: '%', direction: 'at most', stage: 'loop',
    value: (f) => f.loop?.impedance?.share ?? NaN,
    applies: (_, d) => d.brief.impedanceMask !== undefined,
  },
  {
    id: 'pinned', title: 'required in time, of its limit', short: 'in time', unit: '%', direction: 'at most', stage: 'waveforms',
    value: (f) => f.pinned ?? NaN,
    applies: (_, d) => (d.pins ?? []).length > 0,
  },
  {
    id: 'filterMargin', title: 'converter’s impedance above its filter’s', short: 'filter margin', unit: 'dB', direction: 'at least', stage: 'loop',
    value: (f) => f.loop?.front?.margin ?? NaN,
    applies: (f) => f.loop?.front !== undefined,
  },
  { id: 'headroom', title: 'room over the post-regulator’s dropout', short: 'headroom', unit: 'V', direction: 'at least', stage: 'waveforms', value: (f) => f.post?.headroom ?? NaN, applies: (f) => f.post !== undefined },
  { id: 'postRipple', title: 'ripple behind the post-regulator', short: 'ripple behind', unit: 'V', direction: 'at most', stage: 'waveforms', value: (f) => f.post?.ripple ?? NaN, applies: (f) => f.post !== undefined },
  { id: 'powerFactor', title: 'power factor at full load', short: 'power factor', unit: '', direction: 'at least', stage: 'waveforms', value: (f) => f.quality?.powerFactor ?? NaN, applies: onFullMains, origin: 1 },
  { id: 'distortion', title: 'distortion at full load', short: 'distortion', unit: '%', direction: 'at most', stage: 'waveforms', value: (f) => f.quality?.distortion ?? NaN, applies: onFullMains },
  { id: 'harmonics', title: 'a harmonic of its limit', short: 'harmonics', unit: '%', direction: 'at most', stage: 'waveforms', value: (f) => (f.quality ? (f.quality.tightest ? f.quality.tightest.value / f.quality.tightest.limit : 0) : NaN), applies: onFullMains },
  { id: 'holdUp', title: 'hold-up time', short: 'hold-up', unit: 's', direction: 'at least', stage: 'waveforms', value: (f) => f.mains?.holdUp ?? NaN, applies: (_, d) => d.brief.line.mains !== undefined },
  { id: 'noise', title: 'room below the limits of conducted noise', short: 'noise', unit: 'dB', direction: 'at least', stage: 'waveforms', value: (f) => f.noise ?? NaN, applies: atFullLoad },
  {
    id: 'efficiency',
    title: 'efficiency at full load', short: 'efficiency',
    unit: '%',
    direction: 'at least',
    stage: 'losses',
    value: (f) => f.losses.efficiency,
    applies: atFullLoad,
    origin: 1,
  },
  { id: 'junction', title: 'hottest junction', short: 'junction', unit: '°C', direction: 'at most', stage: 'heat', value: (f) => hottest(f, 'junction'), origin: 25 },
  { id: 'winding', title: 'hottest winding', short: 'winding', unit: '°C', direction: 'at most', stage: 'heat', value: (f) => hottest(f, 'winding'), origin: 25 },
  {
    id: 'ratings',
    title: 'stress of rating', short: 'stress',
    unit: '%',
    direction: 'at most',
    stage: 'power-stage',
    value: (f) => Math.max(...f.stresses.map((s) => s.value / s.rating)),
  },
  {
    id: 'height',
    title: 'height of the tallest part', short: 'height',
    unit: 'm',
    direction: 'at most',
    stage: 'power-stage',
    value: (_, d) => Math.max(...heights(d)),
    applies: (_, d) => heights(d).length > 0,
  },
];

/** A requirement held against the figures of one point. */
export interface Standing {
  id: RequirementId;
  limit: number;
  value: number;
  holds: boolean;
  /** 0 at the limit, 1 with all the room there is, negative when it fails */
  room: number;
}

/** Hold every requirement that is switched on and asked at this point. */
export function standings(d: Design, f: Figures): Standing[] {
  const out: Standing[] = [];
  for (const r of REQUIREMENTS) {
    const { limit, on } = d.requirements[r.id];
    if (!on || (r.applies && !r.applies(f, d))) continue;
    const value = r.value(f, d);
    const sign = r.direction === 'at most' ? 1 : -1;
    // A loop that is not stable has no margin to speak of, whatever its Bode plot shows.
    const holds = sign * (limit - value) >= 0 && (r.stage !== 'loop' || f.loop?.stable === true);
    const scale = Math.abs(limit - (r.origin ?? 0)) || 1;
    const free = (sign * (limit - value)) / scale;
    const room = Number.isNaN(free) ? -1 : Math.max(-1, Math.min(1, free));
    out.push({ id: r.id, limit, value, holds, room: holds ? room : Math.min(room, -1e-9) });
  }
  return out;
}

/** Is a figure of a requirement within a limit? */
export const meets = (id: RequirementId, limit: number, value: number): boolean => (requirementNamed(id).direction === 'at most' ? value <= limit : value >= limit);

/** The requirement of that id. */
export const requirementNamed = (id: RequirementId): Requirement => REQUIREMENTS.find((r) => r.id === id)!;

/** The one with the least room, or undefined when none is asked. */
export const tightest = <S extends { room: number }>(list: readonly S[]): S | undefined =>
  list.reduce<S | undefined>((least, s) => (least === undefined || s.room < least.room ? s : least), undefined);
