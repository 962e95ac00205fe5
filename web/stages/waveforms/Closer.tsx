'use client';
import { scaleLinear, scaleLog } from 'd3';
import { useEffect, useMemo, useState } from 'react';
import { decibels as ofRatio } from '../../../core/linear/complex';
import { printQuantity as print } from '../../../core/quantity';
import { peaksOf, spectrumOf } from '../../../core/recording';
import { calledIn } from '../../../core/schedule';
import frame from '../../frame/frame.module.css';
import { LogXAxis } from '../../plots/axes';
import plots from '../../plots/plots.module.css';
import type { Run } from '../../state/inTime';
import { useStore } from '../../state/store';
import { jobs } from '../../workers/pool';

/** Size of the plots in the panel (px), lines below the highest that are shown (dB), points of an X-Y curve */
const [WIDTH, HEIGHT, DEEP, POINTS] = [246, 130, 100, 3000];
/** Exact harmonics that are asked for, of the mains as far as standards look at them; and peaks that are told in figures */
const [HARMONICS, OF_MAINS, TOLD] = [20, 40, 4];

/** dB of a line; one of nothing at all is drawn at the bottom. */
const decibels = (v: number): number => ofRatio(Math.max(v, Number.MIN_VALUE));

/** What a trace in view is made of by frequency, and what it does against another: each unfolded by a click. */
export function Closer({ run, quantity, view }: { run: Run; quantity: number; view: readonly [number, number] }) {
  const [open, setOpen] = useState<'spectrum' | 'against'>();
  return (
    <div data-testid="closer">
      <h3 style={{ display: 'flex', gap: 10 }}>
        {(['spectrum', 'against'] as const).map((what) => (
          <button key={what} type="button" className={frame.link} style={{ fontSize: 12 }} aria-expanded={open === what} onClick={() => setOpen(open === what ? undefined : what)}>
            {what === 'spectrum' ? 'spectrum' : 'against another trace'}
          </button>
        ))}
      </h3>
      {open === 'spectrum' && <SpectrumPlot run={run} quantity={quantity} view={view} />}
      {open === 'against' && <Against run={run} quantity={quantity} view={view} />}
    </div>
  );
}

function SpectrumPlot({ run, quantity, view: [from, until] }: { run: Run; quantity: number; view: readonly [number, number] }) {
  const { id, unit } = run.traces[quantity]!;
  const found = useMemo(() => spectrumOf(run.record, quantity, from, Math.min(until, run.end.t * (1 - 1e-9))), [run, quantity, from, until]);
  const [exact, setExact] = useState<{ id: string; lines: { frequency: number; amplitude: number }[] }>();
  useEffect(() => {
    const own = new AbortController();
    void jobs()
      .at('asked', own.signal)
      .harmonicsAt(run.design, run.point, id, run.design.brief.line.mains === undefined ? HARMONICS : OF_MAINS)
      .then((h) => !own.signal.aborted && setExact({ id, lines: h.ok ? h.value.slice(1) : [] }))
      // Nobody waits for it any more, or its worker died twice: the spectrum stands without them.
      .catch(() => undefined);
    return () => own.abort();
  }, [run.design, run.point, id]);
  if (!found) return <p className="muted">Nothing is recorded of all of this window.</p>;
  const { frequency, amplitude } = found;
  const lines = exact?.id === id ? exact.lines : [];
  const top = Math.max(...amplitude.subarray(1).map(decibels), ...lines.map((l) => decibels(l.amplitude)));
  const x = scaleLog([frequency[1]!, frequency.at(-1)!], [30, WIDTH - 4]);
  const y = scaleLinear([top - DEEP, top + 5], [HEIGHT - 18, 4]);
  const path = Array.from(amplitude.subarray(1), (v, k) => `${k === 0 ? 'M' : 'L'}${x(frequency[k + 1]!).toFixed(1)} ${y(Math.max(top - DEEP, decibels(v))).toFixed(1)}`).join('');
  return (
    <div data-testid="spectrum">
      <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} width="100%" role="img" aria-label="Spectrum of the view, dB">
        <LogXAxis scale={x} y0={4} y1={HEIGHT - 18} />
        {y.ticks(4).map((v) => (
          <text key={v} x={26} y={y(v) + 3} textAnchor="end" className={plots.mono} fontSize={9} fill="var(--muted)">{v}</text>
        ))}
        <path d={path} fill="none" stroke="var(--slate)" strokeWidth={1} />
        {lines.filter((l) => l.frequency <= x.domain()[1]! && decibels(l.amplitude) > top - DEEP).map((l) => (
          <circle key={l.frequency} cx={x(l.frequency)} cy={y(decibels(l.amplitude))} r={2.6} fill="none" stroke="var(--rust)" strokeWidth={1.4} />
        ))}
      </svg>
      {peaksOf(found, TOLD).map((p) => (
        <div className={frame.row} key={p.frequency}>
          <span>{print(p.frequency, 'Hz', 4)}</span>
          <span className="mono">{decibels(p.amplitude).toFixed(1)} dB · {print(p.amplitude, unit, 3)}</span>
        </div>
      ))}
      <p className="muted" style={{ fontSize: 11.5, margin: '2px 0', lineHeight: 1.35 }}>Of the view by a Hann window, dB of 1 {unit} peak; circles: harmonics of the settled cycle, exact.</p>
    </div>
  );
}

function Against({ run, quantity, view: [from, until] }: { run: Run; quantity: number; view: readonly [number, number] }) {
  const design = useStore((s) => s.design);
  const traces = calledIn(design, run.traces);
  const others = traces.flatMap((t, k) => (k === quantity ? [] : [{ ...t, k }]));
  const [other, setOther] = useState(others[0]?.id);
  const chosen = others.find((o) => o.id === other) ?? others[0];
  if (!chosen) return <p className="muted">Add another trace to see it against this one.</p>;
  const { unit, title } = traces[quantity]!;
  const points = Array.from({ length: POINTS }, (_, i) => from + ((until - from) * (i + 0.5)) / POINTS).map((t) => [run.record.at(chosen.k, t), run.record.at(quantity, t)] as const).filter(([a, b]) => Number.isFinite(a) && Number.isFinite(b));
  const span = (v: number[]): [number, number] => {
    const [low, high] = [Math.min(...v), Math.max(...v)];
    return high > low ? [low, high] : [low - 1, high + 1];
  };
  const [xs, ys] = [span(points.map((p) => p[0])), span(points.map((p) => p[1]))];
  const x = scaleLinear(xs, [4, WIDTH - 4]);
  const y = scaleLinear(ys, [HEIGHT - 14, 4]);
  return (
    <div data-testid="against">
      <select className={frame.select} aria-label="The trace across" value={chosen.id} onChange={(e) => setOther(e.target.value)}>
        {others.map((o) => (
          <option key={o.id} value={o.id}>
            {o.title}
          </option>
        ))}
      </select>
      <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} width="100%" role="img" aria-label={`${title} over ${chosen.title}`}>
        <rect x={4} y={4} width={WIDTH - 8} height={HEIGHT - 18} fill="none" stroke="var(--line)" />
        <path d={points.map(([a, b], k) => `${k === 0 ? 'M' : 'L'}${x(a).toFixed(1)} ${y(b).toFixed(1)}`).join('')} fill="none" stroke="var(--spruce)" strokeWidth={1} />
        <g className={plots.mono} fill="var(--muted)">
          <text x={4} y={HEIGHT - 3} fontSize={9.5}>{print(xs[0], chosen.unit, 3)}</text>
          <text x={WIDTH - 4} y={HEIGHT - 3} textAnchor="end" fontSize={9.5}>{print(xs[1], chosen.unit, 3)}</text>
          <text x={8} y={14} fontSize={9.5}>{print(ys[1], unit, 3)}</text>
          <text x={8} y={HEIGHT - 18} fontSize={9.5}>{print(ys[0], unit, 3)}</text>
        </g>
      </svg>
    </div>
  );
}
