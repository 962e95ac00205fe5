'use client';
import { useEffect, useState } from 'react';
import { topologyOf, type Design } from '../../../core/design';
import { warmestOf } from '../../../core/design/limits';
import type { TransformerStudy } from '../../../core/evaluation/transformer';
import { choiceOf, type WindingStudy } from '../../../core/evaluation/winding';
import { partOf, woundAs, type Choice, type Wound } from '../../../core/magnetics/wind';
import { capacitanceOf } from '../../../core/magnetics/window';
import { swingOf } from '../../../core/magnetics/flux';
import type { Core, Material, Wire } from '../../../core/parts/goods';
import type { InductorPart } from '../../../core/parts/schema';
import type { Problem } from '../../../core/problem';
import { printQuantity as print } from '../../../core/quantity';
import type { OperatingPoint } from '../../../core/topology';
import frame from '../../frame/frame.module.css';
import { useGoods } from '../../state/shelf';
import { actions, useStore } from '../../state/store';
import { isAborted } from '../../workers/jobs';
import { jobs } from '../../workers/pool';
import css from '../stages.module.css';
import { CopperAtFrequency, InductanceOverCurrent, LossOverTurns } from './WindingPlots';
import { TransformerView } from './TransformerView';
import { WindowDrawing } from './WindowDrawing';

interface Studied {
  design: Design;
  point: OperatingPoint;
  slot: string;
  study?: WindingStudy;
  transformer?: TransformerStudy;
  problem?: Problem;
}

/** An inductor or a transformer as it is wound: its window, what its copper and core lose, and what would do better. */
export function WindingView() {
  const design = useStore((s) => s.design);
  const point = useStore((s) => s.point);
  const selected = useStore((s) => s.selected);
  const goods = useGoods();
  const wound = topologyOf(design)!.slots.filter((p) => (p.kind === 'inductor' && !p.core) || p.kind === 'transformer');
  const { id: slot, kind } = wound.find((p) => p.id === selected) ?? wound[0] ?? {};
  const [studied, setStudied] = useState<Studied>();
  useEffect(() => {
    if (!slot) return;
    const own = new AbortController();
    const ask = jobs().at('asked', own.signal);
    const answer = kind === 'transformer' ? ask.transformerStudy(design, slot, point).then((found) => (found.ok ? { transformer: found.value } : { problem: found.problem })) : ask.windingStudy(design, slot, point, goods).then((found) => (found.ok ? { study: found.value } : { problem: found.problem }));
    answer.then(
      (found) => void (own.signal.aborted || setStudied({ design, point, slot, ...found })),
      (error) => void (isAborted(error) || console.error(error)),
    );
    return () => own.abort();
  }, [design, point, slot, kind, goods]);
  if (!slot) return <p>Nothing here is wound.</p>;
  if (!studied || studied.slot !== slot) return <p className="muted" role="status">Winding {slot} on every core of the shelf …</p>;
  const fresh = studied.design === design && studied.point === point;
  if (studied.problem) return <p className={css.fails}>{studied.problem.message}: {studied.problem.remedy}</p>;
  return (
    <div className={fresh ? '' : 'stale'} data-testid="winding">
      {wound.length > 1 && (
        <div className={css.tabs} style={{ marginBottom: 6 }} role="group" aria-label="Wound parts">
          {wound.map((p) => (
            <button key={p.id} type="button" className={frame.chip} aria-pressed={p.id === slot} onClick={() => actions.select(p.id)}>
              {p.id} {p.title}
            </button>
          ))}
        </div>
      )}
      {studied.transformer && <TransformerView slot={slot} design={studied.design} study={studied.transformer} />}
      {studied.study && <Wind slot={slot} design={studied.design} study={studied.study} goods={{ cores: goods.filter((g): g is Core => g.kind === 'core'), materials: goods.filter((g): g is Material => g.kind === 'material'), wires: goods.filter((g): g is Wire => g.kind === 'wire') }} />}
    </div>
  );
}

/** What of a design changes when an inductor is wound so. */
const take = (slot: string, w: Wound): void => void actions.edit(Object.fromEntries(Object.entries(partOf(w)).map(([key, value]) => [`parts.${slot}.${key}`, value])));

/** Of the design that was studied: what is changed since then is on its way. */
function Wind({ slot, design, study, goods }: { slot: string; design: Design; study: WindingStudy; goods: { cores: Core[]; materials: Material[]; wires: Wire[] } }) {
  const part = design.parts[slot] as InductorPart;
  const { duty, now, cores } = study;
  const limit = warmestOf(design, 'winding', part.maxTemperature);
  const shown = now ?? study.likely;
  const smaller = cores.filter((w) => w.core.coreVolume < part.coreVolume * 0.999).at(0);
  const better = cores.find((w) => Math.abs(w.core.coreVolume / part.coreVolume - 1) < 0.01 && (!now || w.total < 0.97 * now.total));
  if (!shown) return <p className={css.fails}>No core of the shelf takes {print(duty.inductance, 'H', 3)} at {print(duty.peak, 'A', 3)} below {print(limit, '°C')}: switch faster, allow more ripple, or add larger cores to the shelf.</p>;
  return (
    <div className={css.columns} style={{ gridTemplateColumns: '340px minmax(0, 1fr)', height: 'auto' }}>
      <div>
        <h2 style={{ margin: '0 0 2px' }}>
          {slot}{now ? ', as wound' : ': how it is wound is not known'}
          <span className="muted" style={{ fontWeight: 400 }}>
            {' '}
            {print(duty.inductance, 'H', 3)}
            {now?.gap !== undefined && `, ${print(now.left, 'H', 3)} at ${print(duty.peak, 'A', 3)}`}
          </span>
        </h2>
        {!now && (
          <p style={{ margin: '0 0 6px' }}>
            So its copper counts at dc alone.{' '}
            <button type="button" className={frame.link} onClick={() => take(slot, shown)}>
              Wind it as drawn
            </button>
          </p>
        )}
        <WindowDrawing wound={shown} peak={shown.peak} />
        {now && <Chosen key={`${slot} ${part.part}`} slot={slot} own={choiceOf(part)!} part={part} study={study} goods={goods} />}
        {now?.gap === undefined && now && <p className={css.fails}>No gap gives {print(duty.inductance, 'H', 3)} with {now.turns} turns: take {now.turns < 10 ? 'more' : 'other'} turns or another core.</p>}
        {now && !now.laid.fits && <p className={css.fails}>{now.turns * now.parallel} wires of {print(now.wire.outerDiameter, 'm', 2)} do not fit this window: take a thinner wire, fewer turns or a larger core.</p>}
        {[smaller && ['The smallest core that serves', smaller] as const, better && ['The same core, wound for the least loss', better] as const].map(
          (s) =>
            s && (
              <div key={s[0]}>
                <h3>{s[0]}</h3>
                <p style={{ margin: 0 }}>
                  {s[1].core.part}, {s[1].material.part}, {s[1].turns} turns of {s[1].wire.part}
                  {s[1].parallel > 1 ? ` × ${s[1].parallel}` : ''}: <b className="mono">{print(s[1].total, 'W')}</b> here, {Math.round(s[1].hottest)} °C at most, {print(s[1].left, 'H', 2)} left at {print(duty.peak, 'A', 2)}
                  {Math.abs(s[1].core.coreVolume / part.coreVolume - 1) > 0.01 && `, ${Math.round(100 * (1 - s[1].core.coreVolume / part.coreVolume))} % less volume`}.{' '}
                  <button type="button" className={frame.link} onClick={() => take(slot, s[1])}>
                    Take
                  </button>
                </p>
              </div>
            ),
        )}
      </div>
      <div>
        <h3 style={{ marginTop: 0 }}>Loss over turns, gap following, the best wire for each</h3>
        <LossOverTurns list={study.turns} now={now} take={(w) => take(slot, w)} />
        <p className="muted" style={{ margin: '0 0 6px' }}>{surprise(study.turns)}</p>
        <h3>Copper at frequency</h3>
        <CopperAtFrequency factors={study.factors} duty={duty} />
        <h3>Inductance over current</h3>
        <InductanceOverCurrent falls={study.falls} duty={duty} />
      </div>
    </div>
  );
}

/** What surprises in the curve over turns, in words. */
function surprise(list: readonly Wound[]): string {
  if (list.length < 3) return '';
  const least = list.reduce((a, b) => (b.total < a.total ? b : a));
  if (least === list[0]) return 'The core loses so little that every turn more only adds copper.';
  if (least === list.at(-1)) return 'The core still loses more than the copper: more turns, or a material that loses less.';
  return `More turns: the swing falls, and what the core loses faster than that, until ${least.turns} turns; from there the copper, which goes with the square of them, wins.`;
}

/** Core, material, turns and wire, each changed by itself; and what that comes to here. */
function Chosen({ slot, own, part, study, goods }: { slot: string; own: Choice; part: InductorPart; study: WindingStudy; goods: { cores: Core[]; materials: Material[]; wires: Wire[] } }) {
  const now = study.now!;
  const same = (a: number, b: number): boolean => Math.abs(a / b - 1) < 1e-6;
  const core = goods.cores.find((c) => same(c.coreArea, own.core.coreArea) && same(c.windowWidth, own.core.windowWidth));
  const material = goods.materials.find((m) => same(m.permeability, own.material.permeability) && same(m.maxFluxDensity, own.material.maxFluxDensity));
  const wire = goods.wires.find((w) => same(w.diameter, own.wire.diameter) && w.strands === own.wire.strands);
  const named: Choice = { ...own, core: core ?? own.core, material: material ?? { ...own.material, part: 'its material' }, wire: wire ?? own.wire };
  const change = (c: Partial<Choice>): void => take(slot, woundAs({ ...named, ...c }, study.duty));
  const pick = <T extends { part: string }>(label: string, list: readonly T[], at: T | undefined, then: (v: T) => void) => (
    <label className={frame.row}>
      <span>{label}</span>
      <select className={frame.select} aria-label={`${slot} ${label}`} value={at?.part ?? ''} onChange={(e) => then(list.find((v) => v.part === e.target.value)!)}>
        {!at && <option value="">its own</option>}
        {list.map((v) => (
          <option key={v.part}>{v.part}</option>
        ))}
      </select>
    </label>
  );
  const count = (label: string, value: number, most: number, then: (v: number) => void) => (
    <label className={frame.row}>
      <span>{label}</span>
      <input className={frame.select} style={{ width: 60, textAlign: 'right' }} type="number" min={1} max={most} aria-label={`${slot} ${label}`} defaultValue={value} key={value} onBlur={(e) => commit(e.target, value, most, then)} onKeyDown={(e) => e.key === 'Enter' && commit(e.currentTarget, value, most, then)} />
    </label>
  );
  const says: [string, string][] = [
    ['layers', String(now.laid.layers)],
    ['at dc, 25 °C', print(now.resistance, 'Ω', 3)],
    ...(Math.abs(now.resistance / part.resistance - 1) > 0.02 ? [['stated', print(part.resistance, 'Ω', 3)] as [string, string]] : []),
    ['copper, dc', print(now.copper, 'W')],
    ['copper, ac', print(now.ac, 'W')],
    ['core', print(now.iron, 'W')],
    ['swing here', print(swingOf({ turns: own.turns, coreArea: own.core.coreArea }, study.duty.voltages), 'T', 3)],
    ['end to end', print(capacitanceOf(own.core, now.laid, own.wire), 'F', 2)],
    ['here, at worst', `${Math.round(now.temperature)}, ${Math.round(now.hottest)} °C`],
  ];
  return (
    <div style={{ display: 'grid', gridTemplateColumns: '160px minmax(0, 1fr)', columnGap: 14 }} data-testid="wound">
      <div>
        {pick('core', goods.cores, core, (c) => change({ core: c }))}
        {pick('material', goods.materials, material, (m) => change({ material: m }))}
        {pick('wire', goods.wires, wire, (w) => change({ wire: w }))}
        {count('in parallel', own.parallel, 100, (parallel) => change({ parallel }))}
        {count('turns', own.turns, 1000, (turns) => change({ turns }))}
        {count('gaps', own.gaps, 20, (gaps) => change({ gaps }))}
      </div>
      <div>
        {says.map(([title, text]) => (
          <div className={frame.row} key={title}>
            <span>{title}</span>
            <span className="mono">{text}</span>
          </div>
        ))}
      </div>
    </div>
  );
}

/** A whole number as it is typed, or the one before. */
function commit(field: HTMLInputElement, before: number, most: number, then: (v: number) => void): void {
  const v = Number(field.value);
  if (Number.isInteger(v) && v >= 1 && v <= most) {
    if (v !== before) then(v);
  } else field.value = String(before);
}
