import { cornerPoints, holdCorners, type Corner, type CornerReport } from '../core/corners/corners';
import { requirementNamed } from '../core/corners/requirements';
import { candidates } from '../core/choice';
import { structureNamed } from '../core/control';
import { topologyOf, type Design } from '../core/design';
import { DIVIDER, dividerWarning, evaluate, evaluateStage, lightLoadOf, PLACES, sizeDesign, type LoopFigures, type PlaceId } from '../core/evaluation';
import { describeProblem, fail, ok, type Result } from '../core/problem';
import { curveAt } from '../core/response/readAt';
import { parseQuantity, printQuantity as print, type UnitName } from '../core/quantity';
import type { BodeCurve, Margins } from '../core/response/margins';
import type { OperatingPoint } from '../core/topology';
import { SHELF } from '../shelf';
import { figuresOf, SAID } from './converter';
import { isCircuit } from '../core/interchange/circuitFile';
import { junitOf } from '../core/corners/junit';
import { json, open, refuse, say, textOf, type Options } from './files';
import { table } from './table';

export interface Verb {
  name: string;
  summary: string;
  description: string;
  /** Takes --line, --load and --air */
  atPoint: boolean;
  /** Takes --junit */
  junit?: true;
  /** Prints and returns the exit code */
  run(file: string, options: Options): number;
}

/** A verb of a circuit with roles: the exit code, or undefined where the file is none. */
function circuitVerb(name: string, file: string, options: Options): number | undefined {
  const text = textOf(file);
  if (!text.ok || !isCircuit(text.value)) return undefined;
  const found = figuresOf(text.value, options);
  if (!found.ok) return refuse(file, found.problem, options);
  const { converter, figures } = found.value;
  if (!options.json && name !== 'check') say(`${converter.circuit.name || file}\n`);
  return SAID[name]!(converter, figures, options.json === true);
}

/** The point that options name. */
export function pointOf(d: Design, options: Options): Result<OperatingPoint> {
  const { line, load, air } = d.brief;
  const point: OperatingPoint = { line: (line.min + line.max) / 2, load: load.max, air: air.max };
  const units: [keyof OperatingPoint, UnitName][] = [['line', 'V'], ['load', 'A'], ['air', '°C']];
  for (const [key, unit] of units) {
    const typed = options[key];
    if (typeof typed !== 'string') continue;
    const read = parseQuantity(typed, unit, `--${key}`);
    if (!read.ok) return read;
    point[key] = read.value;
  }
  if (typeof options.angle === 'string') {
    const angle = parseQuantity(options.angle, '°', '--angle');
    if (!angle.ok) return angle;
    if (d.brief.line.mains === undefined) return fail('range', '--angle', 'this line is dc and has no angle', 'leave it out');
    point.angle = (angle.value * Math.PI) / 180;
  }
  return ok(point);
}

const at = (p: OperatingPoint): string => `${print(p.line, 'V')}${p.angle === undefined ? '' : ` at ${print((p.angle * 180) / Math.PI, '°')}`}, ${print(p.load, 'A')}, air ${print(p.air, '°C')}`;

interface PointVerb<F> {
  name: string;
  summary: string;
  help: string;
  find(d: Design, point: OperatingPoint, options: Options): Result<F>;
  show(d: Design, f: F, asJson: boolean): void;
}

/** A verb that shows figures at one point. */
function pointVerb<F>({ name, summary, help, find, show }: PointVerb<F>): Verb {
  return {
    name,
    summary,
    description: `${summary}.\n\n${help} What does not exist is left out; where there are no figures: problem{code,where,message,remedy}, exit code 2.`,
    atPoint: true,
    run(file, options) {
      const ofCircuit = circuitVerb(name, file, options);
      if (ofCircuit !== undefined) return ofCircuit;
      const design = open(file);
      if (!design.ok) return refuse(file, design.problem, options);
      const point = pointOf(design.value, options);
      if (!point.ok) return refuse(file, point.problem, options);
      const figures = find(design.value, point.value, options);
      if (!figures.ok) return refuse(file, figures.problem, options);
      if (!options.json) say(`${design.value.name} at ${at(point.value)}\n`);
      show(design.value, figures.value, options.json === true);
      return 0;
    },
  };
}

const sizes: Verb = {
  name: 'size',
  summary: 'size the parts from the brief',
  description: 'Size the parts from the brief: what is wanted, what is taken, and why.\n\nJSON: duty{min,max}, values[{part,quantity,unit,wanted,taken,overridden,how,workings}].',
  atPoint: false,
  run(file, options) {
    const design = open(file);
    if (!design.ok) return refuse(file, design.problem, options);
    const { duty, values } = sizeDesign(design.value);
    if (options.json) {
      json({
        duty: { min: duty.min, max: duty.max },
        values: Object.entries(values).map(([part, v]) => ({ part, quantity: v.title, unit: v.unit, wanted: v.wanted, taken: v.taken, overridden: v.overridden, how: v.how, workings: v.workings })),
      });
      return 0;
    }
    say(`${design.value.name}: duty ${print(duty.min, '%')} to ${print(duty.max, '%')}\n`);
    const light = lightLoadOf(design.value);
    if (light) say(`at the smallest load: ${light.wanted} is wanted${light.fails.length > 0 ? `, and not met at ${light.fails.map((l) => print(l.line, 'V')).join(', ')}` : `, and met with a ripple share of ${print(light.share, '%')}`}\n`);
    say(table(['part', 'quantity', 'wanted', 'taken', 'how'], Object.entries(values).map(([id, v]) => [id, v.title, `≥ ${print(v.wanted, v.unit)}`, print(v.taken, v.unit), v.how])));
    for (const [id, v] of Object.entries(values))
      for (const w of v.workings) say(`\n${id}, ${w.title}: ${w.formula}\n  = ${w.numbers}\n  = ${print(w.value, w.unit)}   (${w.source}; leaves out: ${w.leavesOut || 'nothing'})`);
    return 0;
  },
};

const topologies: Verb = {
  name: 'topologies',
  summary: 'hold every topology against the brief',
  description:
    'Hold every topology against the brief, with the parts of the shelf that it would take.\n\nJSON: topologies[{id,title,refusal or figures{duty{min,max},switchStress (VA),capacitorCurrent (A rms),storedEnergy (J),loss (W),efficiency,partCount,rightHalfPlaneZero (Hz)}}].',
  atPoint: false,
  run(file, options) {
    const design = open(file);
    if (!design.ok) return refuse(file, design.problem, options);
    const list = candidates(design.value, SHELF);
    if (options.json) {
      json({ topologies: list.map(({ id, title, refusal, figures }) => ({ id, title, refusal, figures })) });
      return 0;
    }
    say(`${design.value.name}: full load and the middle of the line where a point is meant, the whole region else\n`);
    say(
      table(
        ['topology', 'duty', 'switch stress', 'capacitors', 'stored', 'loss', 'parts', 'right-half-plane zero'],
        list.flatMap((c) => {
          const f = c.figures;
          return f ? [[c.id, `${print(f.duty.min, '%')} to ${print(f.duty.max, '%')}`, print(f.switchStress, 'VA'), print(f.capacitorCurrent, 'A'), print(f.storedEnergy, 'J'), print(f.loss, 'W'), String(f.partCount), f.rightHalfPlaneZero === undefined ? 'none' : print(f.rightHalfPlaneZero, 'Hz')]] : [];
        }),
      ),
    );
    for (const c of list) if (c.refusal) say(`\n${c.id}: ${describeProblem(c.refusal)}`);
    return 0;
  },
};

const settle = pointVerb({
  name: 'settle',
  summary: 'solve the settled cycle at a point',
  // The loop has no say in it.
  find: evaluateStage,
  help: 'JSON: duty, period (s), conduction, closure (relative), signals{name:{mean,rms,min,max,peakToPeak}} in V and A, outputRipple (V); on the mains also mains{crest (A),rms (A),seen (rad)}.',
  show: (design, { cycle, mains }, asJson) => {
    const { duty, conduction, closure, signals, period } = cycle;
    if (asJson) return json({ duty, period, conduction, closure, signals, outputRipple: cycle.outputRipple, mains });
    say(`duty ${print(duty, '%', 5)}, ${conduction} conduction, closes to ${closure.toExponential(1)}${structureNamed(design.control.method)?.clocked === false ? `, switching at ${print(1 / period, 'Hz', 4)}` : ''}\n`);
    if (mains) say(`over the mains: crest ${print(mains.crest, 'A')}, ${print(mains.rms, 'A')} rms drawn, output ripple ${print(cycle.outputRipple, 'V')} peak to peak\n`);
    const units = new Map<string, UnitName>(topologyOf(design)!.signals.map((s) => [s.id, s.unit]));
    say(
      table(
        ['signal', 'mean', 'rms', 'least', 'most', 'peak to peak'],
        Object.entries(signals).map(([id, m]) => [id, ...[m.mean, m.rms, m.min, m.max, m.peakToPeak].map((v) => print(Math.abs(v) < 1e-9 ? 0 : v, units.get(id)!, 4))]),
      ),
    );
  },
});

const ANSWERED = { linearised: 'by the linearised period map', 'in time': 'run in time', 'voltage loop': 'by the voltage loop' };

const loop = pointVerb({
  name: 'loop',
  summary: 'crossover and margins at a point',
  find(d, point, options): Result<{ loop: LoopFigures; curve: BodeCurve; at: number[]; read?: { id: PlaceId } & Margins }> {
    const at: number[] = [];
    // Frequencies, or the name of a place.
    let place: PlaceId | undefined;
    for (const one of typeof options.at === 'string' ? options.at.split(',') : []) {
      if ((PLACES as readonly string[]).includes(one.trim())) {
        place = one.trim() as PlaceId;
        continue;
      }
      const f = parseQuantity(one, 'Hz', '--at');
      if (!f.ok) return f;
      at.push(f.value);
    }
    const found = evaluate(d, point, { detail: true, ...(place ? { place } : {}) });
    if (!found.ok) return found;
    const { loop, problems, detail } = found.value;
    if (!loop) return { ok: false, problem: problems.loop! };
    if (place === undefined || place === 'output') return ok({ loop, curve: detail!.bode!.loop, at });
    const elsewhere = detail!.bode!.place;
    return elsewhere && loop.place ? ok({ loop, curve: elsewhere, at, read: loop.place }) : fail('place', '--at', `this design’s loop can not be broken at the ${place}`, `choose ${loop.places.map((p) => p.id).join(', ')}`);
  },
  help: 'JSON: crossover (Hz; beyond: where the gain stays below or above one), phaseMargin (degrees), gainMargin (dB; null when the phase never crosses −180°), falls{by (dB), at (Hz)} where the gain may not fall further either, delayMargin (s), deviation (V), answeredBy (linearised, in time, voltage loop), stable, dip{from,to,by (dB),at,marginAt} where the gain falls below one and comes back, shares[{title,degrees,remedy}] of what takes the phase, modes[{frequency,damping,multiplier,of}], inner{…} of a cascade, sampled{numerator,denominator (z⁻¹),period,phase,delay,costs,counts,fixed,resolution}, spread{share,least,most}, crossovers[{at (Hz),margin (degrees),rises}], reference{change (V),overshoot,rise,settles (s)}, lowGain, impedance{share,at,impedance}, places[{id,title,slot,note}] and, with --at PLACE, place{…margins} and its response, outer (voltage loop on the mains), drive[{title,unit,value,suggested,key}], compensator{corner: Hz}, network{part: Ω, F or S; lower: to ground}, line{step,deviation (V),recovery (s)}, response[{frequency (Hz), gain (dB), phase (degrees)}].',
  show: (_, { loop: l, curve, at, read }, asJson) => {
    const rows = curveAt(curve, at.length > 0 ? at : curve.frequency);
    if (asJson)
      return json({
        crossover: l.crossover,
        phaseMargin: l.phaseMargin,
        gainMargin: Number.isFinite(l.gainMargin) ? l.gainMargin : null,
        beyond: l.beyond,
        falls: l.falls,
        dip: l.dip,
        shares: l.shares,
        modes: l.modes,
        inner: l.inner && { crossover: l.inner.crossover, phaseMargin: l.inner.phaseMargin, gainMargin: Number.isFinite(l.inner.gainMargin) ? l.inner.gainMargin : null, senseGain: l.inner.senseGain, compensator: l.inner.built, sampled: l.inner.sampled },
        sampled: l.sampled,
        spread: l.spread && { share: l.spread.share, least: { crossover: l.spread.least.crossover, phaseMargin: l.spread.least.phaseMargin }, most: { crossover: l.spread.most.crossover, phaseMargin: l.spread.most.phaseMargin } },
        delayMargin: l.delayMargin,
        deviation: l.deviation,
        answeredBy: l.answeredBy,
        stable: l.stable,
        compensator: l.built,
        network: Object.fromEntries(l.network.parts.map((p) => [p.id, p.value])),
        outer: l.outer,
        drive: l.drive,
        lost: l.lost,
        line: l.line,
        reference: l.reference,
        lowGain: l.lowGain,
        impedance: l.impedance,
        crossovers: l.crossovers,
        places: l.places,
        place: read && { ...read, gainMargin: Number.isFinite(read.gainMargin) ? read.gainMargin : null },
        response: at.length > 0 ? rows : curve.frequency.map((frequency, i) => ({ frequency, gain: curve.gain[i], phase: curve.phase[i] })),
      });
    say(
      table(
        ['figure', 'value'],
        [
          ['crossover', l.beyond === undefined ? print(l.crossover, 'Hz') : `none: the gain stays ${l.beyond} one from ${print(curve.frequency[0]!, 'Hz')} up`],
          ['phase margin', print(l.phaseMargin, '°')],
          ['gain margin', print(l.gainMargin, 'dB')],
          ...(l.dip ? [['falls below 0 dB', `from ${print(l.dip.from, 'Hz')} to ${print(l.dip.to, 'Hz')}, by ${print(l.dip.by, 'dB')} at ${print(l.dip.at, 'Hz')}; its margin is least at ${print(l.dip.marginAt, 'Hz')}`]] : []),
          ...(l.inner ? [[`loop inside, ${l.inner.title}`, `${print(l.inner.crossover, 'Hz')}, phase margin ${print(l.inner.phaseMargin, '°')}, sensed by ${print(l.inner.senseGain, 'Ω')}`]] : []),
          ...(l.sampled ? [['sampling costs', print(l.sampled.costs, '°')], ['limit cycle', l.sampled.resolution?.cycles ? `likely: the modulator wants ${l.sampled.resolution.bits.wants} bits` : 'none']] : []),
          ...(l.spread ? [[`with a gain ${print(l.spread.share, '%')} less or more`, `${print(l.spread.least.crossover, 'Hz')} ${print(l.spread.least.phaseMargin, '°')} to ${print(l.spread.most.crossover, 'Hz')} ${print(l.spread.most.phaseMargin, '°')}`]] : []),
          ...(l.falls ? [['stable conditionally', `the gain may fall by ${print(l.falls.by, 'dB')}, by where the phase is −180° at ${print(l.falls.at, 'Hz')}`]] : []),
          ['slope at crossover', `${print(l.slope, 'dB')} a decade`],
          ['delay margin', print(l.delayMargin, 's')],
          ['closest to −1', l.closest.toFixed(2)],
          ['deviation after the load step', `${print(l.deviation, 'V')}, ${ANSWERED[l.answeredBy]}`],
          ...(l.line ? [[`deviation after a ${print(l.line.step, 'V')} line step`, print(l.line.deviation, 'V')]] : []),
          ...(l.reference ? [[`${print(l.reference.change, 'V')} step of the reference`, `${print(l.reference.overshoot, '%')} beyond, rises in ${print(l.reference.rise, 's')}`]] : []),
          ...(l.lowGain ? [['least gain at low frequencies', `${print(l.lowGain.gain, 'dB')} at ${print(l.lowGain.at, 'Hz')}`]] : []),
          ...(l.impedance ? [['output impedance of its mask', `${print(l.impedance.share, '%')}, ${print(l.impedance.impedance, 'Ω')} at ${print(l.impedance.at, 'Hz')}`]] : []),
          ...(read ? [[`broken at the ${read.id}`, read.crossovers.map((c) => `${print(c.at, 'Hz')} ${print(c.margin, '°')}${c.rises ? ' rising' : ''}`).join(', ') || 'no crossover']] : []),
          ...l.drive.map((x) => [x.title, print(x.value, x.unit)]),
          ...(l.outer
            ? [
                ['voltage loop', `${print(l.outer.crossover, 'Hz')}, phase margin ${print(l.outer.phaseMargin, '°')}`],
                ['current sensed by', print(l.outer.senseResistance, 'Ω')],
              ]
            : []),
          ['loop', l.stable ? 'stable' : 'NOT stable'],
        ],
      ),
    );
    if (at.length > 0) say(`\n${table(['frequency', 'gain', 'phase'], rows.map((r) => [print(r.frequency, 'Hz'), r.gain === undefined ? 'not computed there' : `${r.gain.toFixed(2)} dB`, r.phase === undefined ? '' : `${r.phase.toFixed(1)}°`]))}`);
    if (l.lost !== undefined) say(l.lost);
    if (l.shares.length > 0) say(`\nphase taken: ${l.shares.map((s) => `${s.title} ${print(s.degrees, '°')}`).join(', ')}`);
    if (l.sampled) say(`\ncoefficients: b ${l.sampled.numerator.join(', ')}; a ${l.sampled.denominator.join(', ')}`);
    else say(`\nnetwork: ${l.network.parts.map((p) => `${p.title ?? p.id} ${Number.isFinite(p.value) ? print(p.value, p.unit) : 'none'}`).join(', ')}`);
  },
});

const losses = pointVerb({
  name: 'losses',
  summary: 'losses and temperatures at a point',
  // Where only the loop has no figures, or there are no lasting temperatures, the losses still do.
  find: evaluate,
  help: 'JSON: efficiency (0 to 1), total (W), parts[{id,total,mechanisms{name:W},temperature (°C)}], warnings[]; problem where the loop has no figures, or where heat runs away (the losses are those of the cold stage then).',
  show: (d, f, asJson) => {
    const { efficiency, total, parts } = f.losses;
    const warning = dividerWarning(d, parts.find((p) => p.id === DIVIDER)?.total ?? 0);
    const warnings = warning === undefined ? [] : [warning];
    if (asJson) return json({ efficiency, total, parts, warnings, problem: f.problems.loop ?? f.problems.heat });
    say(`efficiency ${print(efficiency, '%', 4)}, ${print(total, 'W')} lost\n`);
    say(
      table(
        ['part', 'loss', 'temperature', 'mechanisms'],
        parts.map((p) => [
          p.id,
          print(p.total, 'W'),
          print(p.temperature, '°C'),
          Object.entries(p.mechanisms).filter(([, w]) => w > 0).map(([id, w]) => `${id} ${print(w, 'W')}`).join(', '),
        ]),
      ),
    );
    for (const w of warnings) say(`\n${w}`);
    if (f.problems.heat) say(`\nheat runs away, and these are the losses of the cold stage: ${describeProblem(f.problems.heat)}`);
    if (f.problems.loop) say(`\nthe loop has no figures: ${describeProblem(f.problems.loop)}`);
  },
});

const plainCorner = (c: Corner): object => ({
  ...c.point,
  requirements: c.requirements.map(({ id, value, limit, holds }) => ({ id, ...(Number.isFinite(value) ? { value } : {}), limit, holds })),
  ...(c.problem ? { problem: c.problem } : {}),
});
const plainWorst = (r: CornerReport): object[] => r.worst.map(({ id, value, limit, holds, at: where }) => ({ id, ...(Number.isFinite(value) ? { value } : {}), limit, holds, ...where }));

const corners: Verb = {
  name: 'corners',
  summary: 'hold the requirements at every corner',
  description: 'Hold the requirements at 3 × 3 corners of line and load, in the hottest air.\n\nJSON: corners[{line,load,air,requirements[{id,value,limit,holds}]}], worst (each requirement at its worst corner, tightest first).',
  atPoint: false,
  run(file, options) {
    const design = open(file);
    if (!design.ok) return refuse(file, design.problem, options);
    const report = holdCorners(design.value);
    if (options.json) {
      json({ corners: report.corners.map(plainCorner), worst: plainWorst(report) });
      return 0;
    }
    say(`${design.value.name}: ${report.holding} of ${report.corners.length} corners meet the brief\n`);
    say(
      table(
        ['requirement', 'limit', 'worst', '', 'at'],
        report.worst.map((w) => {
          const r = requirementNamed(w.id);
          return [r.title, `${r.direction} ${print(w.limit, r.unit)}`, print(w.value, r.unit), w.holds ? 'holds' : 'FAILS', at(w.at)];
        }),
      ),
    );
    for (const c of report.corners) if (c.problem) say(`\n${at(c.point)}: ${describeProblem(c.problem)}`);
    return 0;
  },
};

const check: Verb = {
  name: 'check',
  summary: 'verdict as an exit code',
  description: 'Check a design: exit code 0 when every requirement holds at every corner, 1 when one fails, 2 when the file can not be used. A circuit with roles holds when its cycle stays, and outputs and loops are as its roles want them.\n\nJSON: holds, corners, holding, tightest{id,value,holds,limit} with its line, load and air. --junit prints the verdict as XML for continuous integration, a case a requirement. --within bounds its time: exit code 2 where it does not suffice.',
  atPoint: false,
  junit: true,
  run(file, options) {
    const ofCircuit = circuitVerb('check', file, options);
    if (ofCircuit !== undefined) return ofCircuit;
    const design = open(file);
    if (!design.ok) return refuse(file, design.problem, options);
    const within = typeof options.within === 'string' ? parseQuantity(options.within, 's', '--within') : ok(Infinity);
    if (!within.ok) return refuse(file, within.problem, options);
    const begin = performance.now();
    const report = holdCorners(design.value, () => performance.now() - begin > 1000 * within.value);
    const all = cornerPoints(design.value).length;
    if (report.corners.length < all) return refuse(file, fail('work', '--within', `${report.corners.length} of ${all} corners were judged in ${print(within.value, 's')}`, 'give it more time').problem, options);
    const broken = report.corners.find((c) => c.problem);
    const holds = report.holding === report.corners.length;
    const first = report.worst[0];
    if (options.junit) {
      say(junitOf(design.value, report));
      return holds ? 0 : 1;
    }
    if (options.json) {
      json({ holds, corners: report.corners.length, holding: report.holding, tightest: plainWorst(report)[0] ?? null, ...(broken ? { problem: broken.problem, at: broken.point } : {}) });
      return holds ? 0 : 1;
    }
    if (broken) say(`fails: no figures at ${at(broken.point)}: ${describeProblem(broken.problem!)}`);
    else if (!first) say('holds: no requirement is switched on');
    else {
      const r = requirementNamed(first.id);
      const words = `${r.title} ${print(first.value, r.unit)}, wanted ${r.direction} ${print(first.limit, r.unit)}, at ${at(first.at)}`;
      say(holds ? `holds at all ${report.corners.length} corners; tightest: ${words}` : `fails at ${report.corners.length - report.holding} of ${report.corners.length} corners; tightest: ${words}`);
    }
    return holds ? 0 : 1;
  },
};

export const verbs: readonly Verb[] = [sizes, topologies, settle, loop, losses, corners, check];
