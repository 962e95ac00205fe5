'use client';
import { useState } from 'react';
import { useShallow } from 'zustand/react/shallow';
import { apartOf } from '../../../core/averaged';
import { answerOf, rhythmOf, told } from '../../../core/recording';
import { calledIn, type Trace } from '../../../core/schedule';
import { printQuantity as print } from '../../../core/quantity';
import frame from '../../frame/frame.module.css';
import { inTimeActions, useInTime, type Run } from '../../state/inTime';
import { useStore } from '../../state/store';
import { Captures } from './Captures';
import { Editor } from '../../frame/QuantityField';
import { Closer } from './Closer';
import { Pins } from './Pins';
import { called, joinAbove, lanesOf, move, toggle, usual } from './lanes';

/** Share of its end within which a quantity counts as settled */
const BAND = 0.02;

/** The figures of a trace of the run, of the whole and of what follows its last step; and which traces there are. */
export function Readings({ run, id }: { run: Run; id: string }) {
  const design = useStore((s) => s.design);
  const view = useInTime((s) => s.view) ?? ([0, run.end.t] as const);
  const quantity = run.traces.findIndex((t) => t.id === id);
  const trace = calledIn(design, run.traces)[quantity];
  if (!trace) return <p className="muted">Recording it …</p>;
  const { title, unit } = trace;
  const whole = view[0] <= 0 && view[1] >= run.end.t * (1 - 1e-9);
  const read = run.record.read(quantity, ...view);
  const rhythm = rhythmOf(run.record, quantity, ...view);
  const late = run.record.error(...view);
  const steps = [...(run.schedule.begins === 'rest' ? [0] : []), ...run.schedule.steps.map((s) => s.at)].filter((t) => t < run.end.t).toSorted((a, b) => a - b);
  const size = Math.abs(run.record.read(quantity, 0.95 * run.end.t)?.mean ?? 0);
  return (
    <div data-testid="readings">
      <div className="muted" style={{ fontWeight: 600, fontSize: 11.5 }}>
        Readings, {whole ? 'of the whole run' : `from ${print(view[0], 's', 4)} to ${print(view[1], 's', 4)}`}
      </div>
      <div style={{ fontSize: 15, fontWeight: 700, margin: '4px 0 8px', display: 'flex', justifyContent: 'space-between', alignItems: 'baseline' }}>
        <span>
          <Editor label="name of the trace" shown={title} start={title} paths={[]} read={(text) => ({ changes: { looks: called(design.looks, id, text.trim() === run.traces[quantity]!.title ? '' : text.slice(0, 40)) }, echo: text.trim() === '' ? run.traces[quantity]!.title : text.trim().slice(0, 40) })} />
        </span>
        <button type="button" className={frame.link} style={{ fontSize: 12 }} aria-label="back to the part" onClick={() => inTimeActions.read(undefined)}>
          close
        </button>
      </div>
      {read && (
        <>
          <Row label="mean">{print(told(read).mean, unit, 4)}</Row>
          <Row label="rms">{print(read.rms, unit, 4)}</Row>
          <Row label={`least, at ${print(read.leastAt, 's', 3)}`}>{print(read.least, unit, 4)}</Row>
          <Row label={`largest, at ${print(read.mostAt, 's', 3)}`}>{print(read.most, unit, 4)}</Row>
          <Row label="peak to peak">{print(read.most - read.least, unit, 4)}</Row>
          {rhythm && <Row label="frequency">{print(rhythm.frequency, 'Hz', 4)}</Row>}
          {rhythm && <Row label="above its middle">{print(rhythm.duty, '%', 3)}</Row>}
          {late > 0 && <Row label="times known to">{print(late, 's', 2)}</Row>}
        </>
      )}
      <Closer key={`${id} closer`} run={run} quantity={quantity} view={view} />
      <Averaged run={run} quantity={quantity} />
      <Apart run={run} quantity={quantity} view={view} />
      {steps.map((at, k) => {
        const answer = answerOf(run.record, quantity, at, steps[k + 1] ?? run.end.t, BAND * size);
        // What swings with the mains ends up nowhere.
        if (!answer || unit === 'W' || (trace.of === 'line' && design.brief.line.mains !== undefined)) return null;
        return (
          <div key={`${at} ${k}`}>
            <h3>After {at === 0 && run.schedule.begins === 'rest' ? 'switching on' : `the step at ${print(at, 's', 3)}`}</h3>
            <Row label="ends up at">{print(answer.to, unit, 4)}</Row>
            <Row label="overshoot">{print(answer.over, unit, 3)}</Row>
            <Row label="undershoot">{print(answer.under, unit, 3)}</Row>
            {Number.isFinite(answer.rise) && <Row label="rises in (10–90 %)">{print(answer.rise, 's', 3)}</Row>}
            <Row label={`within ${print(BAND, '%', 1)}`}>{answer.settles === 0 ? 'all along' : Number.isFinite(answer.settles) ? print(answer.settles, 's', 3) : 'not yet'}</Row>
          </div>
        );
      })}
      <Pins key={id} run={run} id={id} view={view} />
      {unit !== 'W' && <Captures run={run} id={id} />}
      <p className="muted" style={{ fontSize: 11.5, lineHeight: 1.35 }}>Extremes are exact, and ripple counts. Means are of straight lines between points; the settled cycle’s are exact.</p>
      <h3 style={{ display: 'flex', justifyContent: 'space-between' }}>
        Traces
        {(design.lanes ?? Object.values(design.looks ?? {}).some((l) => l.height)) && (
          <button type="button" className={frame.link} style={{ fontSize: 12 }} onClick={() => usual()}>
            the usual ones
          </button>
        )}
      </h3>
      {lanesOf(design).map((lane, i) =>
        lane.map((other) => {
          const [t] = calledIn(design, [run.offered.find((o) => o.id === other) ?? run.traces.find((o) => o.id === other)].filter((o) => o !== undefined));
          return (
            <div className={frame.row} key={other} data-lane={i}>
              <button type="button" className={frame.link} style={{ fontWeight: other === id ? 650 : 400, textDecoration: 'none' }} onClick={() => inTimeActions.read(other)}>
                {t?.title ?? other}
              </button>
              <span style={{ whiteSpace: 'nowrap' }}>
                {(
                  [
                    ['up', '↑', () => move(other, -1)],
                    ['down', '↓', () => move(other, 1)],
                    ['into the lane above', '⤒', () => joinAbove(other)],
                    ['take away', '×', () => toggle({ id: other })],
                  ] as const
                ).map(([what, sign, act]) => (
                  <button key={what} type="button" className={frame.link} style={{ marginLeft: 6, textDecoration: 'none' }} aria-label={`${t?.title ?? other}: ${what}`} title={what} onClick={() => void act()}>
                    {sign}
                  </button>
                ))}
              </span>
            </div>
          );
        }),
      )}
      <AddTrace run={run} />
      <Between run={run} />
    </div>
  );
}

/** What the figures of a trace are less those of each kept state, over what is in view. */
function Apart({ run, quantity, view }: { run: Run; quantity: number; view: readonly [number, number] }) {
  const kept = useStore((s) => s.kept);
  const runs = useInTime((s) => s.kept);
  const { id, unit } = run.traces[quantity]!;
  const now = run.record.read(quantity, ...view);
  return runs.flatMap((r) => {
    const label = kept.find((k) => k.id === r.id && k.visible)?.label;
    const own = r.traces.findIndex((t) => t.id === id);
    const then = own < 0 ? undefined : r.record.read(own, ...view);
    if (label === undefined || !now || !then) return [];
    return [
      <div key={r.id} data-testid={`apart-${label}`}>
        <h3>now − {label}</h3>
        {(['mean', 'least', 'most'] as const).map((key) => (
          <Row key={key} label={key === 'most' ? 'largest' : key}>{signed(now[key] - then[key], unit)}</Row>
        ))}
      </div>,
    ];
  });
}

const signed = (v: number, unit: Trace['unit']): string => `${v > 0 ? '+' : ''}${print(v, unit, 3)}`;

/** How far the averaged run is off the mean of the switched one, where it is laid over. */
function Averaged({ run, quantity }: { run: Run; quantity: number }) {
  const { averaged, mean } = useInTime(useShallow(({ averaged, mean }) => ({ averaged, mean })));
  if (!averaged || mean?.run !== run || !('record' in mean)) return null;
  const own = mean.traces.findIndex((t) => t.id === run.traces[quantity]!.id);
  const apart = own < 0 ? undefined : apartOf(run.record, quantity, mean.record, own, run.period);
  if (!apart) return null;
  return (
    <>
      <h3>Averaged</h3>
      <Row label={`apart at most, at ${print(apart.at, 's', 3)}`}>{print(apart.largest, run.traces[quantity]!.unit, 3)}</Row>
      <Row label="of what the mean does">{print(apart.share, '%', 2)}</Row>
    </>
  );
}

function Row({ label, children }: { label: string; children: React.ReactNode }) {
  return (
    <div className={frame.row}>
      <span>{label}</span>
      <span className="mono">{children}</span>
    </div>
  );
}

/** The voltage between two nodes of the circuit, whichever they are. */
function Between({ run }: { run: Run }) {
  const [a, setA] = useState('');
  const [b, setB] = useState('0');
  const choose = (value: string, set: (v: string) => void, label: string) => (
    <select className={frame.select} aria-label={label} value={value} style={{ width: 84 }} onChange={(e) => set(e.target.value)}>
      <option value="">node …</option>
      {run.nodes.map((n) => (
        <option key={n}>{n}</option>
      ))}
    </select>
  );
  return (
    <div style={{ display: 'flex', gap: 4, alignItems: 'center', marginTop: 6 }}>
      {choose(a, setA, 'From node')} to {choose(b, setB, 'To node')}
      <button type="button" className={frame.link} disabled={a === '' || b === '' || a === b} onClick={() => toggle({ id: `voltage:${a},${b}` })}>
        add
      </button>
    </div>
  );
}

/** All that a run can show besides what it does. */
function AddTrace({ run }: { run: Run }) {
  const shown = new Set(lanesOf(useStore((s) => s.design)).flat());
  return (
    <select className={frame.select} aria-label="Add a trace" value="" style={{ marginTop: 6, width: '100%' }} onChange={(e) => toggle({ id: e.target.value })}>
      <option value="">add a trace …</option>
      {run.offered.filter((o) => !shown.has(o.id)).map((o) => (
        <option key={o.id} value={o.id}>
          {o.title}
        </option>
      ))}
    </select>
  );
}

/** What can be seen in time of a part: each a click. */
export function TracesOf({ slot }: { slot: string }) {
  const { mode, run } = useInTime(useShallow(({ mode, run }) => ({ mode, run })));
  const design = useStore((s) => s.design);
  if (mode !== 'time' || !run) return null;
  const own = run.offered.filter((o) => o.of === slot);
  if (own.length === 0) return null;
  const shown = new Set(lanesOf(design).flat());
  return (
    <div className={frame.row} data-testid="traces-of" style={{ marginBottom: 6, flexWrap: 'wrap', gap: 4, justifyContent: 'flex-start' }}>
      <span className="muted">see</span>
      {own.map((t) => (
        <button key={t.id} type="button" className={frame.chip} style={{ padding: '1px 7px', fontSize: 12 }} aria-pressed={shown.has(t.id)} onClick={() => (shown.has(t.id) ? inTimeActions.read(t.id) : toggle(t))}>
          {t.title.replace(`${slot} `, '')}
        </button>
      ))}
    </div>
  );
}

/** What stands at the right while the converter is seen in time and a trace is read; undefined where none is. */
export const useReadings = (): { run: Run; id: string } | undefined => {
  const { mode, run, trace } = useInTime(useShallow(({ mode, run, trace }) => ({ mode, run, trace })));
  return mode === 'time' && run && trace ? { run, id: trace } : undefined;
};
