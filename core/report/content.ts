import { sha256 } from '@noble/hashes/sha2';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils';
import type { Candidate } from '../choice';
import { amplifierNamed, SETTINGS, structureNamed } from '../control';
import { cornerPoints, judge, report, type Corner, type CornerReport } from '../corners/corners';
import { beyondInWords, type FaultFound } from '../corners/faults';
import { requirementNamed } from '../corners/requirements';
import type { Spread, Tolerance } from '../corners/spread';
import { worstInRegion, type RegionVerdict } from '../corners/worst';
import { topologyOf } from '../design/topologyOf';
import type { Design } from '../design/schema';
import { DIVIDER, dividerWarning } from '../evaluation/divider';
import { evaluate } from '../evaluation/evaluate';
import type { Figures } from '../evaluation/figures';
import { MECHANISMS } from '../loss';
import type { Part } from '../parts/schema';
import { inWords, ok, type Result } from '../problem';
import { printQuantity as print, printRange } from '../quantity';
import { loadInWords } from '../surroundings/loads';
import { hottestOf } from '../thermal/network';
import type { OperatingPoint } from '../topology';
import { VERSION } from '../version';
import { billLines } from './bill';
import { SECTIONS, type Block, type Report, type Row, type SectionId } from './blocks';
import { schematic } from './schematic';

/** What a report is made of: everything computed before, so that it shows what every screen and verb shows. */
export interface Known {
  design: Design;
  /** Where waveforms, loop, losses and heat are looked at */
  figures: Figures;
  corners: CornerReport;
  region: RegionVerdict;
  shelf: readonly Part[];
  /** Every topology held against the brief; draws; faults; where they were asked for */
  candidates?: readonly Candidate[];
  spread?: { found: Spread; tolerances: readonly Tolerance[]; seed: number };
  faults?: readonly FaultFound[];
}

/** Values that matter that a report names */
const MATTERS = 6;

const TITLE = new Map<string, string>(Object.values(MECHANISMS).flat().map((m) => [m.id, m.title]));
/** A point in words that break after commas only. */
const at = (p: OperatingPoint): string => [print(p.line, 'V', 3), print(p.load, 'A', 3), print(p.air, '°C', 3)].map((x) => x.replace(' ', '\u00a0')).join(', ');
const table = (head: readonly string[], rows: readonly Row[], numbers: readonly number[] = []): Block => ({ kind: 'table', head, rows, numbers });
const pairs = (rows: readonly (readonly [string, string])[]): Block => ({ kind: 'table', rows: rows.map(([a, b]) => ({ cells: [a, b] })), numbers: [1] });
const text = (said: string, fails = false): Block => ({ kind: 'text', text: said, ...(fails ? { fails: true as const } : {}) });

/** What every report knows of a design at a point: figures with curves, corners and the region. @returns problems of evaluating it there */
export function knownOf(design: Design, point: OperatingPoint, shelf: readonly Part[], more: Pick<Known, 'candidates' | 'spread' | 'faults'> = {}): Result<Known> {
  const figures = evaluate(design, point, { detail: true });
  if (!figures.ok) return figures;
  const corners: Corner[] = cornerPoints(design).map((p) => judge(design, p));
  return ok({ design, figures: figures.value, corners: report(corners), region: worstInRegion(design), shelf, ...more });
}

/** SHA-256 of a design as it is saved, in hexadecimal. */
export const hashOf = (d: Design): string => bytesToHex(sha256(utf8ToBytes(JSON.stringify(d))));

/** In one line: topology, control, from what to what. */
export function summaryOf(d: Design): string {
  const { brief, control } = d;
  const by = [structureNamed(control.method)!.by, amplifierNamed(control.amplifier)!.by].filter((x) => x !== undefined);
  const load = loadInWords(brief);
  return `${[topologyOf(d)!.title, ...by].join(', ')}: from ${printRange(brief.line, 'V')}${brief.line.mains === undefined ? '' : ` ac, ${print(brief.line.mains, 'Hz', 2)},`} to ${print(brief.output.voltage, 'V')} at ${printRange(brief.load, 'A')}${load === '' ? '' : ` ${load}`}, switching at ${print(brief.frequency, 'Hz')}, in air of ${printRange(brief.air, '°C')}`;
}

/** The report of what is known. @param wanted sections; all that there is something to say in where left out */
export function reportOf(known: Known, wanted?: readonly SectionId[]): Report {
  const { design, region, corners } = known;
  const sections = SECTIONS.filter((s) => !wanted || wanted.includes(s.id)).flatMap(({ id, title }) => {
    const blocks = MAKE[id](known);
    return blocks.length > 0 ? [{ id, title, blocks }] : [];
  });
  const [tightest] = region.worst;
  const named = tightest ? `${requirementNamed(tightest.id).title} ${print(tightest.value, requirementNamed(tightest.id).unit)}, wanted ${requirementNamed(tightest.id).direction} ${print(tightest.limit, requirementNamed(tightest.id).unit)}, at ${at(tightest.at)}` : 'nothing is required';
  return {
    title: design.name,
    summary: summaryOf(design),
    holds: region.holds && corners.holding === corners.corners.length,
    verdict: `${corners.holding} of ${corners.corners.length} corners meet the brief; ${region.holds ? 'holds' : 'fails'} in the region, ${region.points} points of it judged; tightest: ${named}`,
    sections,
    about: [['made by', `Jump Reed ${VERSION}`], ['hash of the design, SHA-256', hashOf(design)]],
  };
}

const MAKE: Record<SectionId, (k: Known) => Block[]> = {
  brief: ({ design: { brief, requirements } }) => [
    pairs([
      ['line', `${printRange(brief.line, 'V')}${brief.line.mains === undefined ? '' : ` ac, ${print(brief.line.mains, 'Hz', 2)}`}`],
      ['output', print(brief.output.voltage, 'V')],
      ...(brief.further ?? []).map((o): [string, string] => ['second output', `${print(o.voltage, 'V')} at ${printRange(o.load, 'A')}`]),
      ['load', printRange(brief.load, 'A')],
      ['load step', print(brief.loadStep, 'A')],
      ...(brief.lineStep === undefined ? [] : ([['line step', print(brief.lineStep, 'V')]] as [string, string][])),
      ['switching frequency', print(brief.frequency, 'Hz')],
      ['air', printRange(brief.air, '°C')],
    ]),
    table(['required', 'limit'], Object.entries(requirements).flatMap(([id, { on, limit }]) => {
      const { title, unit, direction } = requirementNamed(id as keyof typeof requirements);
      return on ? [{ cells: [title, `${direction} ${print(limit, unit)}`] }] : [];
    }), [1]),
  ],

  verdict: ({ corners, region }) => [
    text(`${corners.holding} of ${corners.corners.length} corners of line and load meet the brief.`, corners.holding < corners.corners.length),
    table(['requirement', 'limit', 'worst corner', 'at', 'worst in the region', 'nowhere worse than', 'there at'], corners.worst.map((w) => {
      const { title, unit, direction } = requirementNamed(w.id);
      const r = region.worst.find((x) => x.id === w.id);
      return { cells: [title, `${direction} ${print(w.limit, unit)}`, print(w.value, unit), at(w.at), r ? print(r.value, unit) : '', r ? print(r.nowhere, unit) : '', r && at(r.at) !== at(w.at) ? at(r.at) : ''], ...(w.holds && r?.holds !== false ? {} : { fails: true as const }) };
    }), [1, 2, 4, 5]),
    table(['corner', ...corners.worst.map((w) => requirementNamed(w.id).short)], corners.corners.map((c) => ({
      cells: [at(c.point), ...corners.worst.map((w) => {
        const s = c.requirements.find((x) => x.id === w.id);
        return s ? `${print(s.value, requirementNamed(w.id).unit)}${s.holds ? '' : ' ✕'}` : '–';
      })],
      ...(c.holds ? {} : { fails: true as const }),
    })), corners.worst.map((_, k) => k + 1)),
    ...corners.corners.flatMap((c) => (c.problem ? [text(`At ${at(c.point)}: ${inWords(c.problem)}.`, true)] : [])),
    ...region.missing.map((m) => text(`No figures at ${at(m.at)}: ${inWords(m.problem)}.`, true)),
  ],

  topology: ({ design, figures, candidates }) => [
    { kind: 'drawing', svg: schematic(design, figures), title: topologyOf(design)!.title },
    ...(candidates
      ? [
          table(['topology', 'loss', 'switch stress', 'stored', 'parts', 'why not'], candidates.map((c) => ({
            cells: [c.title, c.figures ? print(c.figures.loss, 'W') : '–', c.figures ? print(c.figures.switchStress, 'VA') : '–', c.figures ? print(c.figures.storedEnergy, 'J') : '–', c.figures ? String(c.figures.partCount) : '–', c.refusal ? inWords(c.refusal) : c.id === design.topology ? 'this one' : ''],
          })), [1, 2, 3, 4]),
        ]
      : []),
  ],

  bill: ({ design, shelf, corners }) => {
    const lines = billLines(design, shelf, corners);
    return [
      table(['', 'what', 'part', 'value', 'number', 'hardest stress', 'worst', 'rating', 'share'], lines.map((l) => ({
        cells: [l.slot, l.title, l.part, l.value, String(l.count), l.stress?.title ?? '', l.stress?.value ?? '', l.stress?.rating ?? '', l.stress ? print(l.stress.share, '%') : ''],
        ...(l.stress?.holds === false ? { fails: true as const } : {}),
      })), [4, 6, 7, 8]),
    ];
  },

  waveforms: ({ design, figures: { point, cycle, detail } }) => {
    const { signals } = topologyOf(design)!;
    const waves = detail?.waves;
    return [
      text(`The settled cycle at ${at(point)}: duty ${print(cycle.duty, '%', 4)}, ${cycle.conduction} conduction.`),
      ...(waves
        ? signals.flatMap((s): Block[] => {
            const k = waves.ids.indexOf(s.id);
            if (!s.lane || k < 0) return [];
            const mean = s.lane === 'ripple' ? (cycle.signals[s.id]?.mean ?? 0) : 0;
            return [{ kind: 'plot', title: s.title, x: { title: 'time', unit: 's' }, y: { title: '', unit: s.unit }, lines: [{ title: s.title, x: waves.time, y: Array.from(waves.values[k]!, (v) => v - mean) }] }];
          })
        : []),
      table(['signal', 'mean', 'rms', 'least', 'most', 'peak to peak'], signals.flatMap((s) => {
        const m = cycle.signals[s.id];
        return m ? [{ cells: [s.title, ...[m.mean, m.rms, m.min, m.max, m.peakToPeak].map((v) => print(v, s.unit, 4))] }] : [];
      }), [1, 2, 3, 4, 5]),
    ];
  },

  loop: ({ design, figures: { point, loop, detail, problems, losses } }) => {
    if (!loop) return problems.loop ? [text(`The loop has no figures: ${inWords(problems.loop)}.`, true)] : [];
    const { bode, step } = detail ?? {};
    const divider = dividerWarning(design, losses.parts.find((p) => p.id === DIVIDER)?.total ?? 0);
    const { amplifier, phaseMargin } = { amplifier: amplifierNamed(design.control.amplifier)!, phaseMargin: design.requirements.phaseMargin };
    const curves = bode ? [{ title: 'loop', c: bode.loop }, { title: 'plant', c: bode.plant }, { title: 'compensator', c: bode.compensator }] : [];
    return [
      text(`At ${at(point)}: crossover ${print(loop.crossover, 'Hz')}, phase margin ${print(loop.phaseMargin, '°')}, gain margin ${print(loop.gainMargin, 'dB')}${loop.stable ? '' : '; NOT STABLE'}.`, !loop.stable),
      ...(bode
        ? ([
            { kind: 'plot', title: 'gain', x: { title: 'frequency', unit: 'Hz', log: true }, y: { title: 'gain', unit: 'dB' }, lines: curves.map(({ title, c }) => ({ title, x: c.frequency, y: c.gain })), levels: [{ at: 0, title: '' }], marks: [{ at: loop.crossover, title: print(loop.crossover, 'Hz') }] },
            { kind: 'plot', title: 'phase', x: { title: 'frequency', unit: 'Hz', log: true }, y: { title: 'phase', unit: '°' }, lines: curves.slice(0, 1).map(({ title, c }) => ({ title, x: c.frequency, y: c.phase })), levels: [{ at: -180, title: '' }, { at: phaseMargin.limit - 180, title: `margin ${print(phaseMargin.limit, '°')}` }], marks: [{ at: loop.crossover, title: '' }] },
          ] satisfies Block[])
        : []),
      ...(loop.short ? [text(`${loop.short.message}; ${loop.short.remedy}.`)] : []),
      ...(divider ? [text(`${divider}.`)] : []),
      ...(step ? ([{ kind: 'plot', title: `output after a load step of ${print(design.brief.loadStep, 'A')}`, x: { title: 'time', unit: 's' }, y: { title: '', unit: 'V' }, lines: [{ title: 'output', x: step.time, y: step.value }] }] satisfies Block[]) : []),
      pairs([
        ...amplifier.handles.map((h): [string, string] => [SETTINGS[h.key]!.title, print(loop.built[h.key]!, 'Hz')]),
        ...loop.network.parts.map((p): [string, string] => [p.title ?? p.id, Number.isFinite(p.value) ? print(p.value, p.unit) : 'none']),
        ...loop.drive.map((x): [string, string] => [x.title, print(x.value, x.unit)]),
      ]),
    ];
  },

  losses: ({ figures: { point, losses } }) => {
    const parts = losses.parts.filter((p) => p.total > 0).toSorted((a, b) => b.total - a.total);
    return [
      text(`${print(losses.total, 'W')} at ${at(point)}: ${print(losses.input, 'W', 4)} in, ${print(losses.output, 'W', 4)} out, efficiency ${print(losses.efficiency, '%', 4)}.`),
      { kind: 'bars', title: 'losses', unit: 'W', bars: parts.map((p) => ({ title: p.id, parts: Object.entries(p.mechanisms).filter(([, w]) => w > 0).map(([id, value]) => ({ title: TITLE.get(id) ?? id, value })) })) },
      table(['part', 'loss', 'by'], parts.map((p) => ({ cells: [p.id, print(p.total, 'W'), Object.entries(p.mechanisms).filter(([, w]) => w > 0).toSorted((a, b) => b[1] - a[1]).map(([id, w]) => `${TITLE.get(id) ?? id} ${print(w, 'W')}`).join(', ')] })), [1]),
    ];
  },

  heat: ({ figures: { point, heat, problems } }) =>
    problems.heat
      ? [text(`${inWords(problems.heat)}.`, true)]
      : [table(['spot', `at ${at(point)}`, 'limit'], heat.rungs.filter((r) => r.limit !== undefined).map((r) => ({ cells: [r.title, print(hottestOf(r), '°C'), print(r.limit!, '°C')], ...(hottestOf(r) > r.limit! ? { fails: true as const } : {}) })), [1, 2])],

  spread: ({ design, spread }) => {
    if (!spread) return [];
    const { found, tolerances, seed } = spread;
    return [
      text(`${found.holding} of ${found.draws} drawn designs hold, ${print(found.yield.share, '%', 3)}; 95 times of 100 within ${print(found.yield.low, '%', 3)} and ${print(found.yield.high, '%', 3)} (seed ${seed}, ${tolerances.length} values drawn).`),
      table(['requirement', 'limit', 'worst', '5 % beyond', 'median', '5 % within', 'failing'], found.requirements.map((r) => {
        const { title, unit, direction } = requirementNamed(r.id);
        return { cells: [title, `${direction} ${print(design.requirements[r.id].limit, unit)}`, ...[r.worst, r.low, r.median, r.high].map((v) => print(v, unit)), String(r.failing)], ...(r.failing > 0 ? { fails: true as const } : {}) };
      }), [1, 2, 3, 4, 5, 6]),
      ...(found.tightest ? [table([`the ${requirementNamed(found.tightest).title} spreads by`, 'share'], found.matters.slice(0, MATTERS).map((m) => ({ cells: [m.title, print(m.share, '%', 2)] })), [1])] : []),
    ];
  },

  faults: ({ faults }) =>
    faults
      ? [table(['fault', 'what goes first', 'output', 'line current'], faults.map((f) => ({
          cells: f.problem ? [f.title, f.problem.message, '', ''] : [f.title, f.beyond[0] ? `${beyondInWords(f.beyond[0])}${f.beyond.length > 1 ? `, and ${f.beyond.length - 1} more` : ''}` : f.nearest ? `nothing; nearest ${f.nearest.of} ${f.nearest.what} at ${print(f.nearest.value / f.nearest.rating, '%', 3)}` : 'nothing', `${print(f.output.least, 'V')} to ${print(f.output.most, 'V')}`, print(f.lineCurrent, 'A')],
          ...(f.beyond.length > 0 ? { fails: true as const } : {}),
        })), [3])]
      : [],

  workings: ({ figures }) => {
    const sized = Object.values(figures.sizing.values).flatMap((v) => v.workings);
    const all = [...sized, ...Object.values(figures.detail?.workings ?? {})];
    return all.length > 0 ? [{ kind: 'workings', list: all }] : [];
  },
};

