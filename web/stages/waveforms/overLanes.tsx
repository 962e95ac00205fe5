'use client';
import { path, scaleLinear, type ScaleLinear } from 'd3';
import { useMemo, useRef, type PointerEvent, type RefObject } from 'react';
import { deviationOf, type Captured } from '../../../core/capture';
import { recording, type Recording } from '../../../core/recording';
import { printQuantity as print } from '../../../core/quantity';
import { shareOf, type Pinned, type Trace } from '../../../core/schedule';
import plots from '../../plots/plots.module.css';
import { drawRecorded } from '../../plots/recordedTrace';
import type { Run } from '../../state/inTime';
import { actions } from '../../state/store';

/** What stands over the lanes of a run: captures, what is required, names of kept states, further axes, and all of it in a strip below. */

/** Height of that strip (px) */
export const STRIP = 22;

const recordedCaptures = new WeakMap<Captured, Recording>();

/** A capture as it is laid over, as a recording. */
export function recordedCapture(c: Captured): Recording {
  let found = recordedCaptures.get(c);
  if (!found) {
    found = recording(1);
    found.add({ time: Float64Array.from(c.time, (t) => t + c.shift), values: [Float64Array.from(c.value, (v) => v * c.scale + c.offset)], events: { time: new Float64Array(0), device: new Int32Array(0), segment: new Int32Array(0) } });
    recordedCaptures.set(c, found);
  }
  return found;
}

/** The name of a capture in its lane, how far it is away; dragged, the capture goes along in time and value. */
export function CaptureHandle({ capture: c, index, run, quantity, unit, x, y, svg }: { capture: Captured; index: number; run: Run; quantity: number; unit: Trace['unit']; x: ScaleLinear<number, number>; y: ScaleLinear<number, number>; svg: RefObject<SVGSVGElement | null> }) {
  const grabbed = useRef({ x: 0, y: 0, shift: 0, offset: 0, gesture: '' });
  const off = deviationOf(run.record, quantity, c);
  const [left, right] = x.range() as [number, number];
  const at = Math.min(right - 40, Math.max(left + 4, x(c.time[0]! + c.shift)));
  const place = (e: PointerEvent<SVGElement>): { x: number; y: number } => {
    const box = svg.current!.getBoundingClientRect();
    return { x: x.invert(e.clientX - box.left), y: y.invert(e.clientY - box.top) };
  };
  const put = (shift: number, offset: number, gesture: string): void => void actions.edit({ [`captures.${index}.shift`]: shift, [`captures.${index}.offset`]: offset }, gesture);
  const span = (x.domain()[1]! - x.domain()[0]!) / 200;
  return (
    <g
      data-dragged
      className={plots.handle}
      style={{ cursor: 'move' }}
      tabIndex={0}
      role="slider"
      aria-label={`Capture ${c.title}`}
      aria-valuenow={c.shift}
      aria-valuetext={`shifted by ${print(c.shift, 's', 3)}`}
      data-testid="capture"
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        grabbed.current = { ...place(e), shift: c.shift, offset: c.offset, gesture: `capture ${index} ${Date.now()}` };
      }}
      onPointerMove={(e) => {
        if (e.buttons !== 1) return;
        const [now, g] = [place(e), grabbed.current];
        put(g.shift + now.x - g.x, g.offset + now.y - g.y, g.gesture);
      }}
      onPointerUp={() => actions.endGesture()}
      onKeyDown={(e) => {
        const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
        if (!by) return;
        e.preventDefault();
        e.stopPropagation();
        put(c.shift + by * span * (e.shiftKey ? 10 : 1), c.offset, `keys capture ${index}`);
      }}
    >
      <rect x={at - 2} y={Math.min(...y.range()) - 5} width={170} height={16} fill="transparent" className={plots.halo} />
      <text x={at} y={Math.min(...y.range()) + 8} className={plots.label} fill="var(--ochre-text)">
        ↔ {c.title}{off ? `, ${print(off.rms, unit, 2)} rms away` : ''}
      </text>
    </g>
  );
}

/** What is required of a trace, as lines from when on; red where the run goes beyond. */
export function Required({ pin: { low, high, from, until }, y, x, clip, read }: { pin: Pinned; y: ScaleLinear<number, number>; x: ScaleLinear<number, number>; clip: string; read: { least: number; most: number } | undefined }) {
  const fails = read !== undefined && shareOf({ low, high }, read.least, read.most) > 1;
  const [a, b] = [x(from), until === undefined ? x.range()[1]! : x(until)];
  const [top, bottom] = [Math.min(...y.range()), Math.max(...y.range())];
  const colour = fails ? 'var(--fail)' : 'var(--spruce)';
  return (
    <g clipPath={`url(#${clip})`} data-testid="required" data-fails={fails}>
      {[low, high].map((v, k) => v !== undefined && y(v) >= top - 4 && y(v) <= bottom + 4 && <line key={k} x1={a} x2={b} y1={y(v)} y2={y(v)} stroke={colour} strokeWidth={1.4} strokeDasharray="6 3" />)}
      <text x={Math.min(b, x.range()[1]!) - 5} y={top + 8} textAnchor="end" className={plots.label} fill={colour}>
        required{fails ? ', not met here' : ''}
      </text>
    </g>
  );
}

/** Kept states by the dash they are drawn with. */
export function KeptNames({ others, x, y }: { others: readonly { label: string; colour: string; dash: number[] }[]; x: number; y: number }) {
  return others.map((o, i) => (
    <g key={o.label} transform={`translate(${x - 46 * (others.length - i)} ${y})`}>
      <line x1={0} x2={22} y1={-4} y2={-4} stroke={o.colour} strokeWidth={1.6} strokeDasharray={o.dash.join(' ')} />
      <text x={27} className={plots.label} fontWeight={600} fill={o.colour}>
        {o.label}
      </text>
    </g>
  ));
}

/** The figures of a second unit, within the lane at its right. */
export function RightAxis({ scale, unit, x }: { scale: ScaleLinear<number, number>; unit: Trace['unit']; x: number }) {
  const ticks = scale.ticks(2);
  return (
    <g className={plots.axis}>
      {ticks.map((v) => (
        <text key={v} x={x - 4} y={scale(v)} dy="0.32em" textAnchor="end">
          {print(v, unit, 3)}
        </text>
      ))}
    </g>
  );
}

/** All of a run in a strip, and which part of it is in view: clicked or dragged, that goes there. */
export function Strip({ run, quantity, whole, view: [from, until], show, y, left, right }: { run: Run; quantity: number; whole: number; view: readonly [number, number]; show: (view: readonly [number, number]) => void; y: number; left: number; right: number }) {
  const x = scaleLinear([0, whole], [left, right]);
  // All of it stays what it is while a part of it is looked at.
  const line = useMemo(() => {
    const read = run.record.read(quantity);
    const [low, high] = [read?.least ?? 0, read?.most ?? 1];
    const pen = path();
    drawRecorded(pen, run.record, quantity, scaleLinear([0, whole], [left, right]), scaleLinear([low, high === low ? low + 1 : high], [y + STRIP - 3, y + 3]));
    return pen.toString();
  }, [run, quantity, whole, left, right, y]);
  const go = (e: PointerEvent<SVGRectElement>): void => {
    if (e.buttons !== 1) return;
    e.currentTarget.setPointerCapture(e.pointerId);
    const t = x.invert(e.clientX - e.currentTarget.ownerSVGElement!.getBoundingClientRect().left);
    const start = Math.min(whole - (until - from), Math.max(0, t - (until - from) / 2));
    show([start, start + (until - from)]);
  };
  return (
    <g data-testid="strip">
      <rect x={left} y={y} width={Math.max(0, right - left)} height={STRIP - 1} rx={4} fill="none" stroke="var(--line)" />
      <path d={line} fill="none" stroke="var(--muted)" strokeWidth={0.8} />
      <rect x={x(from)} y={y} width={Math.max(2, x(until) - x(from))} height={STRIP - 1} rx={4} fill="var(--spruce)" fillOpacity={0.16} stroke="var(--spruce)" />
      <rect data-dragged x={left} y={y} width={Math.max(0, right - left)} height={STRIP} fill="transparent" style={{ cursor: 'pointer' }} onPointerDown={go} onPointerMove={go}>
        <title>All of the run: click or drag to look at a part of it</title>
      </rect>
    </g>
  );
}
