'use client';
import { line, scaleLinear } from 'd3';
import { useMemo, useRef, useState } from 'react';
import { topologyOf, type Design } from '../../../core/design';
import type { EdgeStudy } from '../../../core/evaluation/edges';
import { ENERGY_UNITS, readEnergies, readOver } from '../../../core/parts/readEnergy';
import type { SwitchingEnergy, SwitchPart } from '../../../core/parts/schema';
import { fail, type Problem, type Result } from '../../../core/problem';
import { parseQuantity, printQuantity as print, type UnitName } from '../../../core/quantity';
import type { OperatingPoint } from '../../../core/topology';
import { COLUMNS, FileInput } from '../../frame/FileInput';
import frame from '../../frame/frame.module.css';
import { axisPrefix, spaced, XAxis, YAxis } from '../../plots/axes';
import plots from '../../plots/plots.module.css';
import { SaveMenu } from '../../plots/SaveMenu';
import { actions, useStore } from '../../state/store';
import { useAsked, type Engine } from '../../workers/useAsked';
import css from '../stages.module.css';

const askEdges = (engine: Engine, design: Design, slot: string, point: OperatingPoint, part: SwitchPart): Promise<Result<EdgeStudy>> => engine.edgeStudy(design, slot, point, part);

/** What each edge of a switch costs, by its charges and by what was measured: a table pasted is drawn before it counts. */
export function EdgesView() {
  const design = useStore((s) => s.design);
  const selected = useStore((s) => s.selected);
  const switches = topologyOf(design)!.slots.filter((p) => p.kind === 'switch');
  const { id: slot } = switches.find((p) => p.id === selected) ?? switches[0] ?? {};
  if (!slot) return <p>There is no switch here.</p>;
  return (
    <>
      {switches.length > 1 && (
        <div className={css.tabs} style={{ marginBottom: 6 }} role="group" aria-label="Switches">
          {switches.map((p) => (
            <button key={p.id} type="button" className={frame.chip} aria-pressed={p.id === slot} onClick={() => actions.select(p.id)}>
              {p.id} {p.title}
            </button>
          ))}
        </div>
      )}
      <Edges key={slot} slot={slot} design={design} part={design.parts[slot] as SwitchPart} />
    </>
  );
}

function Edges({ slot, design, part }: { slot: string; design: Design; part: SwitchPart }) {
  const point = useStore((s) => s.point);
  const [draft, setDraft] = useState<SwitchingEnergy>();
  const svg = useRef<SVGSVGElement>(null);
  const args = useMemo(() => [design, slot, point, draft ? { ...part, switchingEnergy: draft } : part] as const, [design, slot, point, part, draft]);
  const asked = useAsked(askEdges, args);
  const study = asked?.value;
  return (
    <div className={css.columns} style={{ gridTemplateColumns: 'minmax(0, 1fr) 300px', height: 'auto' }} data-testid="edges">
      <div className={asked?.args === args ? '' : 'stale'}>
        {asked?.problem && <p className={css.fails}>{`${asked.problem.message}: ${asked.problem.remedy}`}</p>}
        {study && (
          <>
            <div className={css.head}>
              <h2 style={{ margin: 0 }}>
                Energy of an edge <span className="muted" style={{ fontWeight: 400 }}>of {slot} over its current, {print(study.junction, '°C', 3)}</span>
              </h2>
              <SaveMenu svg={svg} name="edges" columns={() => ({ 'current (A)': study.curves.map((c) => c.amps), 'on by charge (J)': study.curves.map((c) => c.charge.on), 'off by charge (J)': study.curves.map((c) => c.charge.off), ...(study.curves[0]?.table ? { 'on by table (J)': study.curves.map((c) => c.table!.on), 'off by table (J)': study.curves.map((c) => c.table!.off) } : {}) })} />
            </div>
            <EnergyPlot study={study} svg={svg} />
            <table className={css.list} style={{ maxWidth: 600 }}>
              <thead>
                <tr>
                  <th>edge here</th>
                  {['blocked', 'carried', 'gate', 'by charge', 'by table', 'of that, lost'].map((t) => (
                    <th key={t} style={{ textAlign: 'right' }}>
                      {t}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {study.edges.map((e, i) => (
                  <tr key={i}>
                    <td>{e.edge}{e.hard ? '' : ', soft'}</td>
                    <td className={css.number}>{print(e.blocked, 'V', 3)}</td>
                    <td className={css.number}>{print(e.carried, 'A', 3)}</td>
                    <td className={css.number}>{print(e.gate, 'Ω', 2)}</td>
                    <td className={css.number}>{print(e.byCharge, 'J', 3)}</td>
                    <td className={css.number}>{e.byTable === undefined ? 'none' : print(e.byTable, 'J', 3)}</td>
                    <td className={css.number}>{print(e.watts, 'W', 3)}</td>
                  </tr>
                ))}
              </tbody>
            </table>
            <p className="muted" style={{ margin: '6px 0' }}>By charge: overlap, what the capacitances at the node cost, and what the partner’s diode gives back; a test bench measures all three in one.</p>
          </>
        )}
      </div>
      <Measured slot={slot} part={part} draft={draft} setDraft={setDraft} />
    </div>
  );
}

const [WIDTH, HEIGHT] = [460, 210];
const [X0, X1, Y0, Y1] = [52, WIDTH - 92, 10, HEIGHT - 24];

/** Turning on and off over the current: measured as a line, by charge dashed, the edges here as dots. */
function EnergyPlot({ study, svg }: { study: EdgeStudy; svg: React.RefObject<SVGSVGElement | null> }) {
  const { curves, edges } = study;
  const kinds = (['on', 'off'] as const).flatMap((edge) => [
    ...(curves[0]?.table ? [{ edge, name: `${edge}, measured`, dash: '', of: (c: (typeof curves)[number]) => c.table![edge] }] : []),
    { edge, name: `${edge}, charge`, dash: '5 3', of: (c: (typeof curves)[number]) => c.charge[edge] },
  ]);
  const most = Math.max(...kinds.flatMap((k) => curves.map(k.of)), 1e-12);
  const x = scaleLinear([0, curves.at(-1)!.amps], [X0, X1]);
  const y = scaleLinear([0, most], [Y1, Y0]).nice(4);
  const { symbol } = axisPrefix(y.domain(), 'J');
  const heights = spaced(kinds.map((k) => y(k.of(curves.at(-1)!))));
  const colour = (edge: 'on' | 'off'): string => (edge === 'on' ? 'var(--rust)' : 'var(--slate)');
  return (
    <svg ref={svg} viewBox={`0 0 ${WIDTH} ${HEIGHT}`} style={{ width: '100%', maxWidth: 620, display: 'block' }} role="img" aria-label={`Energy of an edge over its current, in ${symbol}`} data-testid="edge-plot">
      <XAxis scale={x} unit="A" y0={Y0} y1={Y1} />
      <YAxis scale={y} unit="J" x0={X0} x1={X1} />
      {kinds.map((k, i) => (
        <g key={k.name}>
          <path d={line<(typeof curves)[number]>((c) => x(c.amps), (c) => y(k.of(c)))(curves)!} fill="none" stroke={colour(k.edge)} strokeWidth={k.dash ? 1.5 : 2.2} strokeDasharray={k.dash} />
          <text x={X1 + 6} y={heights[i]! + 4} className={plots.label} fill={colour(k.edge)}>
            {k.name}
          </text>
        </g>
      ))}
      {edges.filter((e) => e.hard).map((e, i) => (
        <circle key={i} cx={x(e.carried)} cy={y(e.byTable ?? e.byCharge)} r={5} fill={colour(e.edge)}>
          <title>{`${e.edge} at ${print(e.blocked, 'V')}, ${print(e.carried, 'A')}: ${print(e.byTable ?? e.byCharge, 'J')}`}</title>
        </circle>
      ))}
    </svg>
  );
}

type Unit = (typeof ENERGY_UNITS)[number];
const FACTOR: Record<Unit, number> = { µJ: 1e6, mJ: 1e3, J: 1 };

/** What is typed of a table, as it is typed. */
interface Typed {
  unit: Unit;
  text: string;
  volts: string;
  ohms: string;
  gates: string;
  voltages: string;
}

/** Rows as they would be pasted, in a unit. */
const textOf = (t: SwitchingEnergy | undefined, unit: Unit): string => {
  if (!t) return '';
  const row = (r: readonly number[]): string => r.map((v, k) => short(k < r.length - 2 ? v : v * FACTOR[unit])).join('\t');
  return t.warmPoints ? [...t.points.map((r) => [t.temperature ?? 25, ...r]), ...t.warmPoints].map(row).join('\n') : t.points.map(row).join('\n');
};
const overOf = (rows: readonly (readonly number[])[] | undefined, unit: Unit): string => (rows ?? []).map((r) => [short(r[0]!), ...r.slice(1).map((v) => short(v * FACTOR[unit]))].join('\t')).join('\n');
const short = (v: number): string => String(Number(v.toPrecision(6)));

/** A table of measured energies: pasted, typed or read from a file, drawn as it is typed, and counted when that is wanted. */
function Measured({ slot, part, draft, setDraft }: { slot: string; part: SwitchPart; draft: SwitchingEnergy | undefined; setDraft: (t: SwitchingEnergy | undefined) => void }) {
  const own = part.switchingEnergy;
  const [typed, setTyped] = useState((): Typed => ({ unit: 'µJ', text: textOf(own, 'µJ'), volts: print(own?.voltage ?? part.blockingVoltage / 2, 'V'), ohms: own?.gateResistance === undefined ? '' : print(own.gateResistance, 'Ω'), gates: overOf(own?.gatePoints, 'µJ'), voltages: overOf(own?.voltagePoints, 'µJ') }));
  const { unit, text, volts, ohms, gates, voltages } = typed;
  const [more, setMore] = useState(own?.gatePoints !== undefined || own?.voltagePoints !== undefined);
  const file = useRef<HTMLInputElement>(null);
  const read = tableOf(typed, own);
  const change = (next: Partial<Typed>): void => {
    const all = { ...typed, ...next };
    setTyped(all);
    const found = tableOf(all, own);
    setDraft(all.text.trim() !== '' && found.ok ? found.value : undefined);
  };
  const count = (table: SwitchingEnergy | undefined): void => {
    actions.edit({ [`parts.${slot}.switchingEnergy`]: table });
    setDraft(undefined);
  };
  const problem: Problem | undefined = text.trim() === '' || read.ok ? undefined : read.problem;
  const field = (label: string, value: string, set: (v: string) => void, width = 90) => (
    <label className={frame.row}>
      <span>{label}</span>
      <input className={frame.select} style={{ width, textAlign: 'right' }} aria-label={`${slot} ${label}`} value={value} onChange={(e) => set(e.target.value)} />
    </label>
  );
  const area = (label: string, value: string, set: (v: string) => void, height: number, placeholder: string) => (
    <label style={{ display: 'block', marginTop: 4 }}>
      <span className="muted">{label}</span>
      <textarea className={frame.select} style={{ width: '100%', maxWidth: 'none', boxSizing: 'border-box', height, fontFamily: 'var(--mono, monospace)', fontSize: 12 }} aria-label={label} value={value} onChange={(e) => set(e.target.value)} placeholder={placeholder} spellCheck={false} />
    </label>
  );
  return (
    <div data-testid="measured-edges">
      <h2 style={{ marginTop: 0 }}>{own ? 'Counted as measured' : 'Counted by its charges'}</h2>
      <FileInput ref={file} title="Energies of edges" accept={COLUMNS} open={(f) => void f.text().then((t) => change({ text: t }))} />
      <div className={frame.row}>
        <span>energies in</span>
        <select className={frame.select} aria-label="Unit of the energies" value={unit} onChange={(e) => change({ unit: e.target.value as Unit })}>
          {ENERGY_UNITS.map((u) => (
            <option key={u}>{u}</option>
          ))}
        </select>
      </div>
      {area('A, on, off a line; or °C, A, on, off', text, (t) => change({ text: t }), 108, '25 5 21 8\n25 10 48 19\n125 5 26 10\n125 10 61 24')}
      <button type="button" className={frame.link} onClick={() => file.current!.click()}>
        from a file
      </button>
      <div className={css.tabs} style={{ margin: '6px 0' }}>
        <button type="button" className={frame.chip} disabled={!draft} onClick={() => count(draft)}>
          Count as measured
        </button>
        {own && (
          <button type="button" className={frame.chip} onClick={() => count(undefined)}>
            Count by its charges
          </button>
        )}
      </div>
      {problem && <p className={css.fails} style={{ margin: '4px 0' }}>{`${problem.where === 'table' ? '' : `${problem.where}: `}${problem.message}: ${problem.remedy}`}</p>}
      {draft && !own && <p className="muted" style={{ margin: '4px 0' }}>Drawn, not counted yet.</p>}
      {field('measured at', volts, (v) => change({ volts: v }))}
      {field('with a gate resistor of', ohms, (v) => change({ ohms: v }))}
      {more ? (
        <>
          {area('Ω, on, off: over gate resistors', gates, (v) => change({ gates: v }), 56, '5 40 15\n10 48 19\n20 70 31')}
          {area('V, on, off: over voltages', voltages, (v) => change({ voltages: v }), 56, '200 20 8\n400 48 19')}
        </>
      ) : (
        <button type="button" className={frame.link} onClick={() => setMore(true)}>
          over gate resistors and voltages too
        </button>
      )}
    </div>
  );
}

/** The table that is typed, or what is wrong with it. */
function tableOf({ unit, text, volts, ohms, gates, voltages }: Typed, own: SwitchingEnergy | undefined): Result<SwitchingEnergy> {
  const rows = readEnergies(text, unit);
  if (!rows.ok) return rows;
  const above = (value: string, of: UnitName, where: string): Result<number> => {
    const found = parseQuantity(value, of, where);
    return !found.ok || found.value > 0 ? found : fail('range', where, 'it is not above zero', 'give what it was measured at');
  };
  const at = above(volts, 'V', 'measured at');
  if (!at.ok) return at;
  const gate = ohms.trim() === '' ? undefined : above(ohms, 'Ω', 'gate resistor');
  if (gate && !gate.ok) return gate;
  const over = [gates.trim() === '' ? undefined : readOver(gates, 'Ω', unit), voltages.trim() === '' ? undefined : readOver(voltages, 'V', unit)] as const;
  for (const o of over) if (o && !o.ok) return o;
  if (over[0] && !gate) return fail('missing', 'gate resistor', 'which one the rows over the current were measured with is not known', 'give it, for the rows over gate resistors to be compared with');
  return {
    ok: true,
    value: { voltage: at.value, rise: own?.rise ?? 0, ...rows.value, ...(gate ? { gateResistance: gate.value } : {}), ...(over[0]?.ok ? { gatePoints: over[0].value } : {}), ...(over[1]?.ok ? { voltagePoints: over[1].value } : {}) },
  };
}
