'use client';
import { path, scaleLinear, type ScaleLinear } from 'd3';
import { useEffect, useId, useLayoutEffect, useRef, useState, type KeyboardEvent, type PointerEvent, type RefObject } from 'react';
import { useColorScheme } from '@mui/material/styles';
import { eventInWords, type Recording } from '../../../core/recording';
import { printQuantity as print, printTyped } from '../../../core/quantity';
import { calledIn, type Schedule } from '../../../core/schedule';
import frame from '../../frame/frame.module.css';
import { XAxis, YAxis } from '../../plots/axes';
import { keptStyle } from '../../plots/keptStyle';
import plots from '../../plots/plots.module.css';
import { drawRecorded } from '../../plots/recordedTrace';
import { alsoPainted } from '../../plots/savePlot';
import { useSize } from '../../plots/useSize';
import { useTimeWindow } from '../../plots/useTimeWindow';
import { inTimeActions, useInTime, type Run } from '../../state/inTime';
import { actions, useStore } from '../../state/store';
import { BOTTOM, Cursors, GAP, LANE_COLOURS, LEFT, RIGHT, TOP } from './laneFrame';
import { heightsOf } from './lanes';
import { LaneEdge, useCarried } from './laneHandles';
import { isOver } from './Captures';
import { CaptureHandle, KeptNames, recordedCapture, Required, RightAxis, STRIP, Strip } from './overLanes';
import { rowsOfLabels } from './rowsOfLabels';
import { ownCopy } from './ScheduleRow';

/** Height of a row of the timeline's labels (px) */
const ROW = 14;
/** px within which a cursor snaps to an event */
const SNAPS = 5;

/** "load 2 → 6 A" of every step of a schedule, where it comes; and what fails. */
function stepsInWords({ steps, begins, fails = [] }: Schedule, from: Record<string, number>): { at: number; text: string; index: number }[] {
  const now = { ...from };
  const said = steps.map((s, index) => ({ ...s, index })).toSorted((a, b) => a.at - b.at).map(({ at, what, to, index }) => {
    const unit = what === 'load' ? 'A' : 'V';
    const text = what === 'enable' ? (to === 1 ? 'gates let in' : 'gates let go') : `${what} ${printTyped(now[what]!, unit, 3)} → ${printTyped(to, unit, 3)}`;
    now[what] = to;
    return { at, text, index };
  });
  const failed = fails.map(({ at, part, how }) => ({ at, text: `${part} ${{ open: 'opens', short: 'is a short', leaky: 'leaks' }[how]}`, index: -1 }));
  return [...(begins === 'rest' ? [{ at: 0, text: 'switched on', index: -1 }] : []), ...said, ...failed].toSorted((a, b) => a.at - b.at);
}

/** One curve to draw: of which recording, by which scale, and how. */
interface Curve {
  record: Recording;
  quantity: number;
  y: ScaleLinear<number, number>;
  colour: string;
  dash: number[];
  /** Behind the run's own, so that it is seen at both sides of it */
  wide?: true;
}

/** The lanes of a run: traces on a canvas, axes, schedule and cursors over it, all of the run in a strip below. */
export function RunLanes({ run, asked: schedule, lanes, svg }: { run: Run; asked: Schedule; lanes: readonly (readonly string[])[]; svg: RefObject<SVGSVGElement | null> }) {
  const [box, { width, height }] = useSize<HTMLDivElement>();
  const [cursors, setCursors] = useState<[number, number]>([0.2, 0.6]);
  const clip = useId();
  const canvas = useRef<HTMLCanvasElement>(null);
  const dragged = useRef('');
  // Drawn anew in the colours of a dark screen.
  useColorScheme();
  const selected = useInTime((s) => s.trace);
  const keptRuns = useInTime((s) => s.kept);
  const averaged = useInTime((s) => s.averaged);
  const mean = useInTime((s) => s.mean);
  const kept = useStore((s) => s.kept);
  const pins = useStore((s) => s.design.pins) ?? [];
  const captures = useStore((s) => s.design.captures) ?? [];
  const looks = useStore((s) => s.design.looks);
  const { record, point, design } = run;
  const traces = calledIn({ looks }, run.traces);
  const right = width - RIGHT;
  const whole = Math.max(run.end.t, run.schedule.lasts);
  const { view, show, onKeyDown } = useTimeWindow(svg, LEFT, right, whole);
  const [from, until] = view;
  useEffect(() => inTimeActions.see([from, until]), [from, until]);
  const x = scaleLinear([from, until], [LEFT, right]);
  const steps = stepsInWords(schedule, { load: point.load, line: point.line, reference: design.brief.output.voltage });
  const labels = rowsOfLabels(steps.map((s) => ({ x: x(s.at), text: s.text })), right);
  const top = TOP + 12 + ROW * (1 + Math.max(0, ...labels.map((l) => l.row)));
  const bottom = height - BOTTOM - STRIP - 8;
  // What has just been asked for is not recorded yet.
  const shown = lanes.map((l) => l.flatMap((id) => traces.flatMap((t, quantity) => (t.id === id ? [{ ...t, quantity }] : [])))).filter((l) => l.length > 0);
  const room = bottom - top - GAP * (shown.length - 1);
  const order = shown.map((l) => l.map((t) => t.id));
  const heights = heightsOf(order, looks, room);
  const [ta, tb] = cursors.map((c) => c * whole) as [number, number];
  const smooth = averaged && mean?.run === run && 'record' in mean ? mean : undefined;
  const meanCurve = (id: string): number[] => (smooth ? smooth.traces.flatMap((t, k) => (t.id === id ? [k] : [])) : []);
  const others = kept.flatMap((k, i) => {
    const found = k.visible ? keptRuns.find((r) => r.id === k.id) : undefined;
    return found ? [{ ...found, label: k.label, ...keptStyle(i) }] : [];
  });

  const placed = shown.map((lane, i) => {
    const y0 = top + i * GAP + heights.slice(0, i).reduce((a, b) => a + b, 0);
    const laneHeight = heights[i]!;
    // The first unit has the axis at the left, another the one at the right.
    const units = [...new Set(lane.map((t) => t.unit))].slice(0, 2);
    const axes = units.map((unit) => {
      const read = lane.filter((t) => t.unit === unit).flatMap((t) => [rangeOf(record, t.quantity, from, until), ...others.map((o) => rangeOf(o.record, o.traces.findIndex((u) => u.id === t.id), from, until)), ...captures.filter((c) => isOver(c, t.id, run)).map((c) => rangeOf(recordedCapture(c), 0, from, until))].filter((r) => r !== undefined));
      const [low, high] = [Math.min(...read.map((r) => r.least)), Math.max(...read.map((r) => r.most))];
      return { unit, y: scaleLinear(Number.isFinite(low) ? [low, high === low ? low + 1 : high] : [0, 1], [y0 + laneHeight - 5, y0 + 5]) };
    });
    const curves = lane.flatMap((t, j): Curve[] => {
      const y = (axes.find((a) => a.unit === t.unit) ?? axes[0]!).y;
      return [
        ...others.flatMap((o): Curve[] => {
          const quantity = o.traces.findIndex((u) => u.id === t.id);
          return quantity < 0 ? [] : [{ record: o.record, quantity, y, colour: o.colour, dash: o.dash }];
        }),
        ...captures.filter((c) => isOver(c, t.id, run)).map((c): Curve => ({ record: recordedCapture(c), quantity: 0, y, colour: 'var(--ochre)', dash: [], wide: true })),
        { record, quantity: t.quantity, y, colour: LANE_COLOURS[(i + j) % LANE_COLOURS.length]!, dash: [] },
        ...meanCurve(t.id).map((quantity): Curve => ({ record: smooth!.record, quantity, y, colour: 'var(--plum)', dash: [5, 2.5] })),
      ];
    });
    return { lane, y0, laneHeight, axes, curves };
  });
  const carried = useCarried(svg, placed.map(({ lane, y0, laneHeight: high }) => ({ ids: lane.map((t) => t.id), y0, high })));

  useLayoutEffect(() => {
    const ctx = canvas.current?.getContext('2d');
    if (!ctx || width <= 0 || height <= 0) return;
    const dots = window.devicePixelRatio || 1;
    const style = getComputedStyle(canvas.current!);
    ctx.setTransform(dots, 0, 0, dots, 0, 0);
    ctx.clearRect(0, 0, width, height);
    for (const { curves } of placed)
      for (const c of curves) {
        ctx.save();
        ctx.beginPath();
        ctx.rect(LEFT, 0, Math.max(0, right - LEFT), height);
        ctx.clip();
        ctx.beginPath();
        const band = drawRecorded(ctx, c.record, c.quantity, x, c.y);
        ctx.strokeStyle = ctx.fillStyle = style.getPropertyValue(/--[a-z-]+/.exec(c.colour)?.[0] ?? '--ink');
        ctx.setLineDash(c.dash);
        ctx.lineWidth = c.wide ? 4.5 : c.dash.length > 0 ? 1.3 : band ? 1.2 : 1.8;
        ctx.lineJoin = 'round';
        if (band && c.dash.length === 0) {
          ctx.globalAlpha = 0.35;
          ctx.fill();
          ctx.globalAlpha = 1;
        }
        ctx.stroke();
        ctx.restore();
      }
  });
  useEffect(() => {
    if (!svg.current) return;
    alsoPainted(svg.current, () => {
      const style = getComputedStyle(document.documentElement);
      const lines = placed.flatMap(({ curves }) => curves.map((c) => {
        const pen = path();
        const band = drawRecorded(pen, c.record, c.quantity, x, c.y);
        const colour = style.getPropertyValue(/--[a-z-]+/.exec(c.colour)?.[0] ?? '--ink').trim();
        return `<path d="${pen.toString()}" fill="${band && c.dash.length === 0 ? colour : 'none'}" fill-opacity="0.35" stroke="${colour}" stroke-dasharray="${c.dash.join(' ')}"/>`;
      }));
      return `<g xmlns="http://www.w3.org/2000/svg">${lines.join('')}</g>`;
    });
  });

  const snapped = (t: number): number => {
    const near = ([-1, 1] as const).flatMap((way) => record.event(t, way)?.t ?? []).filter((e) => Math.abs(x(e) - x(t)) < SNAPS);
    return near.toSorted((a, b) => Math.abs(a - t) - Math.abs(b - t))[0] ?? t;
  };
  const moveCursor = (which: 0 | 1, to: number): void => setCursors((now) => now.map((c, i) => (i === which ? Math.min(1, Math.max(0, to / whole)) : c)) as [number, number]);
  /** Cursor a to the event before or after it, and that into view. */
  const jump = (way: -1 | 1): void => {
    const event = record.event(ta, way);
    if (!event) return;
    moveCursor(0, event.t);
    const span = until - from;
    if (event.t < from || event.t > until) show([Math.max(0, event.t - span / 2), Math.max(0, event.t - span / 2) + span]);
  };
  const here = record.event(ta * (1 - 1e-12), 1);
  const happens = here && Math.abs(here.t - ta) <= 1e-9 * whole ? [...new Set(here.what.map((w) => eventInWords(run.devices[w.device]!, w.segment)))].join('; ') : undefined;

  /** Move a step of the schedule: of the design's own it is moved there, of a usual one a copy is made for it. */
  const move = (index: number, to: number, gesture: string): void => {
    const at = Number(Math.min(schedule.lasts, Math.max(0, to)).toPrecision(3));
    const k = useStore.getState().design.schedules?.findIndex((s) => s.name === schedule.name) ?? -1;
    if (k >= 0) actions.edit({ [`schedules.${k}.steps.${index}.at`]: at }, gesture);
    else {
      const name = ownCopy(schedule, (own) => ({ ...own, steps: own.steps.map((s, i) => (i === index ? { ...s, at } : s)) }));
      if (name) inTimeActions.show(name);
    }
  };
  const grab = (index: number) => (e: PointerEvent<SVGElement>): void => {
    e.currentTarget.setPointerCapture(e.pointerId);
    dragged.current = `step ${index} ${Date.now()}`;
  };
  const pull = (index: number) => (e: PointerEvent<SVGElement>): void => {
    if (e.buttons === 1) move(index, x.invert(e.clientX - svg.current!.getBoundingClientRect().left), dragged.current);
  };
  const nudge = (e: KeyboardEvent, s: { at: number; index: number }): void => {
    const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
    if (!by) return;
    e.preventDefault();
    move(s.index, s.at + by * (e.shiftKey ? 0.05 : 0.01) * schedule.lasts, `keys step ${s.index}`);
  };
  const reading = traces.findIndex((t) => t.id === selected);
  return (
    <div ref={box} style={{ height: '100%', overflow: 'hidden', position: 'relative' }}>
      {width > 0 && height > 0 && (
        <>
          <svg
            ref={svg}
            width={width}
            height={height}
            style={{ position: 'relative', touchAction: 'none', userSelect: 'none' }}
            role="group"
            tabIndex={0}
            aria-label={`In time: ${schedule.name}. Arrows pan, plus and minus zoom, 0 shows all, brackets go from event to event.`}
            data-testid="run-lanes"
            data-from={from}
            data-until={until}
            onKeyDown={(e) => {
              if (e.key === '[' || e.key === ']') jump(e.key === '[' ? -1 : 1);
              else onKeyDown(e);
            }}
          >
            <clipPath id={clip}>
              <rect x={LEFT} y={0} width={Math.max(0, right - LEFT)} height={height} />
            </clipPath>
            <rect x={LEFT} y={0} width={Math.max(0, right - LEFT)} height={height} fill="transparent" />
            <text x={0} y={TOP + 14} className={plots.label} fontWeight={650} fill="var(--ink)">
              {schedule.name}
            </text>
            <XAxis scale={x} unit="s" y0={top} y1={bottom} count={7} />
            <g clipPath={`url(#${clip})`}>
              {steps.map((s, i) => (
                <g key={`${s.at} ${s.text}`}>
                  <line x1={x(s.at)} x2={x(s.at)} y1={TOP + 8 + ROW * labels[i]!.row} y2={bottom} stroke="var(--muted)" strokeDasharray="2 3" />
                  <circle
                    cx={x(s.at)}
                    cy={TOP + 10 + ROW * labels[i]!.row}
                    r={4.5}
                    fill="var(--card)"
                    stroke="var(--spruce)"
                    strokeWidth={2}
                    {...(s.index < 0 ? {} : { 'data-dragged': true, 'data-step': s.index, className: plots.handle, tabIndex: 0, role: 'slider', 'aria-label': s.text, 'aria-valuenow': s.at, 'aria-valuetext': print(s.at, 's', 3), onPointerDown: grab(s.index), onPointerMove: pull(s.index), onPointerUp: () => actions.endGesture(), onKeyDown: (e: KeyboardEvent) => nudge(e, s) })}
                  />
                  <text x={x(s.at) + (labels[i]!.before ? -9 : 9)} y={TOP + 14 + ROW * labels[i]!.row} textAnchor={labels[i]!.before ? 'end' : 'start'} fontSize={11.5} fill="var(--ink)">
                    {s.text}
                  </text>
                </g>
              ))}
            </g>
            {placed.map(({ lane, y0, laneHeight, axes, curves }, i) => (
              <g key={lane.map((t) => t.id).join(' ')}>
                <rect x={LEFT} y={y0} width={Math.max(0, right - LEFT)} height={laneHeight} fill="none" stroke="var(--line)" />
                {axes.map((a, k) =>
                  k === 0 ? <YAxis key={a.unit} scale={a.y} unit={a.unit} x0={LEFT} x1={right} count={laneHeight > 110 ? 5 : laneHeight > 60 ? 3 : 2} /> : <RightAxis key={a.unit} scale={a.y} unit={a.unit} x={right} />,
                )}
                {lane.flatMap((t) => pins.filter((p) => p.trace === t.id && p.schedule === run.schedule.name).map((p, k) => <Required key={`${t.id} ${k}`} pin={p} y={(axes.find((a) => a.unit === t.unit) ?? axes[0]!).y} x={x} clip={clip} read={record.read(t.quantity, p.from, p.until ?? whole)} />))}
                {lane.flatMap((t) => captures.flatMap((c, k) => (isOver(c, t.id, run) ? [<CaptureHandle key={k} capture={c} index={k} run={run} quantity={t.quantity} unit={t.unit} x={x} y={(axes.find((a) => a.unit === t.unit) ?? axes[0]!).y} svg={svg} />] : [])))}
                {lane.map((t, j) => {
                  const read = rangeOf(record, t.quantity, from, until);
                  const rows = laneHeight / lane.length;
                  const at = y0 + j * rows;
                  return (
                    <g key={t.id} data-trace={t.id} data-curves={curves.length} transform={`translate(0 ${at})`}>
                      <g
                        role="button"
                        tabIndex={0}
                        data-dragged
                        aria-pressed={selected === t.id}
                        aria-label={`${t.title}: its figures`}
                        style={{ cursor: carried.id === t.id ? 'grabbing' : 'pointer' }}
                        {...carried.handlers(t.id)}
                        onClick={() => !carried.wasMoved() && inTimeActions.read(selected === t.id ? undefined : t.id)}
                        onKeyDown={(e) => e.key === 'Enter' && inTimeActions.read(selected === t.id ? undefined : t.id)}
                      >
                        <rect x={-4} y={1} width={LEFT - 50} height={17} rx={4} fill={selected === t.id ? 'var(--spruce-wash)' : 'transparent'} />
                        <text y={13} className={plots.label} fontWeight={650} fill={LANE_COLOURS[(i + j) % LANE_COLOURS.length]}>
                          {t.title}
                        </text>
                      </g>
                      {rows > 44 && (
                        <g className={plots.mono} fill="var(--muted)">
                          <text y={29} data-testid={`run-most-${t.id}`}>most {print(read?.most ?? NaN, t.unit)}</text>
                          <text y={43} data-testid={`run-least-${t.id}`}>least {print(read?.least ?? NaN, t.unit)}</text>
                          {rows > 72 && (
                            <text y={rows - 3} fill="var(--ink)">
                              b−a {print(record.at(t.quantity, tb) - record.at(t.quantity, ta), t.unit)}
                            </text>
                          )}
                        </g>
                      )}
                    </g>
                  );
                })}
              </g>
            ))}
            {carried.mark && <rect x={0} width={right} {...carried.mark} fill="var(--spruce)" opacity={carried.mark.height > 4 ? 0.12 : 1} pointerEvents="none" data-testid="drop-mark" />}
            {placed.slice(0, -1).map(({ lane, y0, laneHeight }, i) => (
              <LaneEdge key={`edge ${lane[0]!.id}`} title={lane.map((t) => t.title).join(', ')} lanes={order} room={room} index={i} y={y0 + laneHeight} left={LEFT} right={right} svg={svg} height={laneHeight} />
            ))}
            {others.length > 0 && placed[0] && <KeptNames others={others} x={right - 4} y={placed[0].y0 + 12} />}
            <Cursors at={[ta, tb]} move={(which, to) => moveCursor(which, snapped(to))} x={x} svg={svg} top={top} bottom={bottom} step={(until - from) / 500} />
            <Strip run={run} quantity={Math.max(0, reading >= 0 ? reading : traces.findIndex((t) => t.id === 'output'))} whole={whole} view={view} show={show} y={height - STRIP} left={LEFT} right={right} />
            <text x={0} y={bottom + 14} className={plots.mono} fill="var(--ink)">
              b−a {print(tb - ta, 's', 4)}
            </text>
            <text x={0} y={height - STRIP + 14} className={plots.mono} fill="var(--muted)">
              {print(1 / Math.abs(tb - ta || NaN), 'Hz', 3)}
            </text>
          </svg>
          <canvas ref={canvas} width={width * (globalThis.devicePixelRatio || 1)} height={height * (globalThis.devicePixelRatio || 1)} style={{ position: 'absolute', inset: 0, width, height, pointerEvents: 'none' }} aria-hidden data-testid="run-canvas" />
          <div style={{ position: 'absolute', right: RIGHT, top: 0, fontSize: 12, display: 'flex', gap: 8 }}>
            <span className="muted" data-testid="event">{happens ?? ''}</span>
            <button type="button" className={frame.link} aria-label="event before cursor a" title="Cursor a to the event before it ([)" onClick={() => jump(-1)}>
              ←
            </button>
            <span className="muted">event</span>
            <button type="button" className={frame.link} aria-label="event after cursor a" title="Cursor a to the event after it (])" onClick={() => jump(1)}>
              →
            </button>
          </div>
        </>
      )}
    </div>
  );
}

/** Least and most over a window, which is all that a lane wants of it. */
function rangeOf(record: Recording, quantity: number, from: number, until: number): { least: number; most: number } | undefined {
  if (quantity < 0) return undefined;
  const { least, most } = record.columns(quantity, from, until, 1);
  return Number.isNaN(least[0]!) ? undefined : { least: least[0]!, most: most[0]! };
}
