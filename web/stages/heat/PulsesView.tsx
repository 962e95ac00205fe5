'use client';
import { line, scaleLog } from 'd3';
import { useMemo, useRef, useState } from 'react';
import { topologyOf, type Design } from '../../../core/design';
import type { PulseStudy } from '../../../core/evaluation/pulses';
import type { DiodePart, SwitchPart, ThermalLadder } from '../../../core/parts/schema';
import type { Problem, Result } from '../../../core/problem';
import { printDuration, printQuantity as print } from '../../../core/quantity';
import { cauerOf } from '../../../core/thermal/ladder';
import { fitPulse, readPulse, type PulseFit } from '../../../core/thermal/pulseFit';
import type { OperatingPoint } from '../../../core/topology';
import { COLUMNS, FileInput } from '../../frame/FileInput';
import frame from '../../frame/frame.module.css';
import { QuantityField } from '../../frame/QuantityField';
import { spaced } from '../../plots/axes';
import plots from '../../plots/plots.module.css';
import { SaveMenu } from '../../plots/SaveMenu';
import { useSize } from '../../plots/useSize';
import { actions, useStore } from '../../state/store';
import { useAsked, type Engine } from '../../workers/useAsked';
import css from '../stages.module.css';

const askPulses = (engine: Engine, design: Design, slot: string, point: OperatingPoint): Promise<Result<PulseStudy>> => engine.pulseStudy(design, slot, point);

/** How a junction answers pulses, and what it swings by here; its ladder typed or read from the curve of its maker. */
export function PulsesView() {
  const design = useStore((s) => s.design);
  const selected = useStore((s) => s.selected);
  const slots = topologyOf(design)!.slots.flatMap((p) => (p.kind === 'switch' || p.kind === 'diode' ? [p.id] : []));
  return <Pulses slot={slots.includes(selected) ? selected : slots[0]!} slots={slots} design={design} />;
}

function Pulses({ slot, slots, design }: { slot: string; slots: readonly string[]; design: Design }) {
  const point = useStore((s) => s.point);
  const svg = useRef<SVGSVGElement>(null);
  const args = useMemo(() => [design, slot, point] as const, [design, slot, point]);
  const asked = useAsked(askPulses, args);
  const study = asked?.args[1] === slot ? asked.value : undefined;
  const part = design.parts[slot] as SwitchPart | DiodePart;
  return (
    <div className={css.columns} style={{ gridTemplateColumns: 'minmax(0, 1fr) 280px' }} data-testid="pulses">
      <div className={css.stack}>
        <div className={css.head}>
          <h2 style={{ margin: 0 }}>
            {slot} under pulses <span className="muted" style={{ fontWeight: 400 }}>junction above its case</span>
          </h2>
          <span style={{ flex: 1 }} />
          <SaveMenu svg={svg} name="pulses" columns={() => ({ 'time (s)': (study?.curves ?? []).map((c) => c.time), 'single (K/W)': (study?.curves ?? []).map((c) => c.single), ...Object.fromEntries((study?.shares ?? []).map((s, i) => [`duty ${s} (K/W)`, study!.curves.map((c) => c.shares[i]!)])) })} />
        </div>
        <div className={css.tabs} style={{ marginBottom: 4 }} role="group" aria-label="Junctions">
          {slots.map((p) => (
            <button key={p} type="button" className={frame.chip} aria-pressed={p === slot} onClick={() => actions.select(p)}>
              {p}
            </button>
          ))}
        </div>
        {asked?.problem && <p className={css.fails}>{`${asked.problem.message}: ${asked.problem.remedy}`}</p>}
        <Impedance study={study} fresh={asked?.args === args} svg={svg} />
      </div>
      <div style={{ overflow: 'auto' }}>
        <h2 style={{ marginTop: 0 }}>Here</h2>
        {study && <Here study={study} part={part} slot={slot} />}
        <LadderOf key={slot} slot={slot} part={part} study={study} />
      </div>
    </div>
  );
}

/** What it swings by, what it is at most, and where it would run away. */
function Here({ study, part, slot }: { study: PulseStudy; part: SwitchPart | DiodePart; slot: string }) {
  const { ripple, over, frequency, temperature, beyond } = study;
  const swing = ripple.high - ripple.low;
  const rows: [string, string][] = [
    ['junction, mean', print(temperature, '°C', 3)],
    [`swings within ${over}`, swing < 0.01 ? 'less than 0.01 K' : `${swing.toPrecision(2)} K at ${print(frequency, 'Hz', 2)}`],
    ['hottest moment', print(temperature + ripple.high - ripple.mean, '°C', 3)],
    ['runs away', beyond === undefined ? 'nowhere, as it is loaded here' : `above ${print(beyond, '°C', 3)}`],
  ];
  return (
    <div data-testid="junction-here">
      {rows.map(([title, text]) => (
        <div className={frame.row} key={title}>
          <span>{title}</span>
          <span className="mono" style={{ textAlign: 'right' }}>{text}</span>
        </div>
      ))}
      {part.kind === 'switch' && part.count > 1 && (
        <div className={frame.row}>
          <span>one of {part.count} lies below by</span>
          {part.spread === undefined ? (
            <button type="button" className={frame.link} onClick={() => actions.edit({ [`parts.${slot}.spread`]: 0.1 })}>
              all alike
            </button>
          ) : (
            <QuantityField path={`parts.${slot}.spread`} label={`${slot} spread`} />
          )}
        </div>
      )}
    </div>
  );
}

type Form = ThermalLadder['form'] | 'curve';
const SAYS: Record<Form, string> = { Cauer: 'K/W, J/K from the junction out', Foster: 'K/W, s of each term', curve: 's, K/W of its curve' };

/** The ladder of a part: shown in both forms, typed in either, or fitted to the curve of its pulses. */
function LadderOf({ slot, part, study }: { slot: string; part: SwitchPart | DiodePart; study: PulseStudy | undefined }) {
  const [form, setForm] = useState<Form>('curve');
  const [text, setText] = useState('');
  const file = useRef<HTMLInputElement>(null);
  const read = text.trim() === '' ? undefined : ladderFrom(form, text);
  const problem: Problem | undefined = read && !read.ok ? read.problem : undefined;
  const sum = read?.ok ? read.value.ladder.rungs.reduce((all, [r]) => all + r, 0) : 0;
  const take = (ladder: ThermalLadder | undefined): void => {
    actions.edit({ [`parts.${slot}.ladder`]: ladder, ...(ladder ? { [`parts.${slot}.junctionToCase`]: Number(ladder.rungs.reduce((all, [r]) => all + r, 0).toPrecision(6)) } : {}) });
    setText('');
  };
  return (
    <>
      <h3>
        From junction to case{' '}
        <span className="muted" style={{ fontWeight: 400 }}>{study?.estimated ? 'estimated from its size' : 'as its ladder says'}</span>
      </h3>
      {study && (
        <table className={css.list} data-testid="ladder">
          <thead>
            <tr>
              <th style={{ textAlign: 'right' }}>K/W</th>
              <th style={{ textAlign: 'right' }}>J/K</th>
              <th style={{ textAlign: 'right' }}>term</th>
              <th style={{ textAlign: 'right' }}>constant</th>
            </tr>
          </thead>
          <tbody>
            {study.ladder.map((r, k) => (
              <tr key={k}>
                <td className={css.number}>{r.resistance.toPrecision(2)}</td>
                <td className={css.number}>{r.capacity.toPrecision(2)}</td>
                <td className={css.number}>{study.modes[k]!.resistance.toPrecision(2)}</td>
                <td className={css.number}>{printDuration(study.modes[k]!.resistance * study.modes[k]!.capacity)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {part.ladder && (
        <button type="button" className={frame.link} onClick={() => take(undefined)}>
          take it away
        </button>
      )}
      <div className={frame.row} style={{ marginTop: 6 }}>
        <span>give it as</span>
        <select className={frame.select} style={{ maxWidth: 170 }} aria-label="Form of the ladder" value={form} onChange={(e) => setForm(e.target.value as Form)}>
          <option value="curve">curve of its pulses</option>
          <option value="Foster">Foster terms</option>
          <option value="Cauer">Cauer rungs</option>
        </select>
      </div>
      <FileInput ref={file} title="Pulse curve" accept={COLUMNS} open={(f) => void f.text().then(setText)} />
      <label>
        <span className="muted">{SAYS[form]}, a line each</span>
        <textarea className={frame.select} style={{ width: '100%', maxWidth: 'none', boxSizing: 'border-box', height: 76, fontFamily: 'var(--mono, monospace)', fontSize: 12 }} aria-label="Ladder" value={text} onChange={(e) => setText(e.target.value)} placeholder={form === 'curve' ? '0.0001 0.05\n0.001 0.16\n0.01 0.42\n0.1 0.9\n1 1.1' : form === 'Foster' ? '0.2 0.0004\n0.5 0.008\n0.6 0.05' : '0.2 0.001\n0.4 0.01\n0.7 0.08'} spellCheck={false} />
      </label>
      <button type="button" className={frame.link} onClick={() => file.current!.click()}>
        from a file
      </button>
      {problem && <p className={css.fails} style={{ margin: '4px 0' }}>{`${problem.where}: ${problem.message}: ${problem.remedy}`}</p>}
      {read?.ok && (
        <p style={{ margin: '4px 0' }} data-testid="ladder-read">
          {read.value.ladder.rungs.length} {form === 'Cauer' ? 'rungs' : 'terms'}, {print(sum, 'K/W', 3)} in all
          {read.value.fit && `, off by ${print(read.value.fit.misfit, '%', 2)} rms, at most ${print(Math.abs(read.value.fit.worst.share), '%', 2)} after ${printDuration(read.value.fit.worst.at)}`}.{' '}
          <button type="button" className={frame.chip} onClick={() => take(read.value.ladder)}>
            Take
          </button>
        </p>
      )}
    </>
  );
}

/** A ladder from what is typed, with the misfit where it is fitted. */
function ladderFrom(form: Form, text: string): Result<{ ladder: ThermalLadder; fit?: PulseFit }> {
  const short = (v: number): number => Number(v.toPrecision(6));
  if (form === 'curve') {
    const points = readPulse(text);
    if (!points.ok) return points;
    const fit = fitPulse(points.value);
    return fit.ok ? { ok: true, value: { fit: fit.value, ladder: { form: 'Foster', rungs: fit.value.modes.map((m): [number, number] => [short(m.resistance), short(m.resistance * m.capacity)]) } } } : fit;
  }
  const rungs: [number, number][] = [];
  for (const [i, raw] of text.split(/\r?\n/).entries()) {
    if (raw.trim() === '') continue;
    const cells = raw.trim().split(/[;\t]|,?\s+|,/).map((c) => Number(c.replace(',', '.')));
    if (rungs.length === 0 && cells.every(Number.isNaN)) continue;
    if (cells.length !== 2 || !cells.every((c) => c > 0)) return { ok: false, problem: { code: 'number', where: `line ${i + 1}`, message: `"${raw.trim().slice(0, 40)}" is not two numbers above zero`, remedy: `give ${SAYS[form]}` } };
    rungs.push([cells[0]!, cells[1]!]);
  }
  if (rungs.length === 0 || rungs.length > 8) return { ok: false, problem: { code: 'size', where: 'ladder', message: `${rungs.length} lines`, remedy: 'give one to eight' } };
  const ladder: ThermalLadder = { form, rungs };
  return cauerOf(ladder) ? { ok: true, value: { ladder } } : { ok: false, problem: { code: 'ladder', where: 'ladder', message: 'these terms make none', remedy: 'give time constants that stand apart' } };
}

const [LEFT, RIGHT, TOP, BOTTOM] = [58, 74, 10, 26];

/** Impedance over the length of a pulse: a single one, and pulses that come again and again. */
function Impedance({ study, fresh, svg }: { study: PulseStudy | undefined; fresh: boolean; svg: React.RefObject<SVGSVGElement | null> }) {
  const [box, { width, height }] = useSize<HTMLDivElement>();
  if (!study) return <div ref={box} style={{ flex: 1 }} />;
  const { curves, shares } = study;
  const x = scaleLog([curves[0]!.time, curves.at(-1)!.time], [LEFT, width - RIGHT]);
  const least = Math.max(curves[0]!.single, curves.at(-1)!.single * 1e-3);
  const y = scaleLog([least, curves.at(-1)!.single * 1.15], [height - BOTTOM, TOP]);
  const decades = (scale: typeof x): number[] => {
    const [low, high] = scale.domain() as [number, number];
    return Array.from({ length: 16 }, (_, k) => 10 ** (Math.ceil(Math.log10(low)) + k)).filter((v) => v <= high * 1.001);
  };
  const lines = [...shares.map((share, i) => ({ name: `duty ${Math.round(share * 100)} %`, colour: 'var(--slate)', of: (c: (typeof curves)[number]) => c.shares[i]! })), { name: 'single', colour: 'var(--rust)', of: (c: (typeof curves)[number]) => c.single }];
  const labels = spaced(lines.map((l) => y(Math.max(least, l.of(curves[0]!)))));
  return (
    <div ref={box} className={fresh ? '' : 'stale'} style={{ flex: 1, minHeight: 0, overflow: 'hidden' }}>
      {width > 0 && height > 0 && (
        <svg ref={svg} width={width} height={height} role="img" aria-label="Thermal impedance over the length of a pulse" data-testid="impedance">
          {decades(x).map((t) => (
            <g key={t} transform={`translate(${x(t)} 0)`}>
              <line y1={TOP} y2={height - BOTTOM} stroke="var(--line)" />
              <text y={height - BOTTOM + 15} textAnchor="middle" className={plots.mono} fill="var(--muted)">
                {print(t, 's', 1)}
              </text>
            </g>
          ))}
          {decades(y).map((v) => (
            <g key={v}>
              <line x1={LEFT} x2={width - RIGHT} y1={y(v)} y2={y(v)} stroke="var(--line)" />
              <text x={LEFT - 6} y={y(v) + 4} textAnchor="end" className={plots.mono} fill="var(--muted)">
                {v >= 1 ? `${v} K/W` : String(v)}
              </text>
            </g>
          ))}
          {lines.map((l, i) => (
            <g key={l.name}>
              <path d={line<(typeof curves)[number]>((c) => x(c.time), (c) => y(Math.max(least, l.of(c)))).defined((c) => l.of(c) >= least)(curves)!} fill="none" stroke={l.colour} strokeWidth={l.name === 'single' ? 2.4 : 1.3} />
              <text x={l.name === 'single' ? width - RIGHT + 6 : LEFT + 6} y={l.name === 'single' ? y(curves.at(-1)!.single) + 4 : labels[i]! - 4} className={plots.label} fill={l.colour}>
                {l.name}
              </text>
            </g>
          ))}
        </svg>
      )}
    </div>
  );
}
