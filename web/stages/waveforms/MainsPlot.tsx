'use client';
import { area, scaleLinear } from 'd3';
import { useRef, type KeyboardEvent, type PointerEvent } from 'react';
import { heldCommand } from '../../../core/control/held';
import type { Figures } from '../../../core/evaluation';
import { printQuantity as print } from '../../../core/quantity';
import { tracePath, XAxis, YAxis } from '../../plots/axes';
import { keptStyle } from '../../plots/keptStyle';
import plots from '../../plots/plots.module.css';
import { useSize } from '../../plots/useSize';
import { actions, useStore } from '../../state/store';

const LEFT = 158;
const RIGHT = 12;
const TOP = 6;
const BOTTOM = 20;
const GAP = 8;
/** Share of the height that the current takes */
const CURRENT = 0.62;

/**
 * Half a cycle of the mains: the inductor's current between its least and its largest within a switching period, and
 * the output. The upright line is the angle at which everything else is seen: drag it, or move it by the arrow keys.
 */
export function MainsPlot({ figures, mains }: { figures: Figures; mains: number }) {
  const [box, { width, height }] = useSize<HTMLDivElement>();
  const svg = useRef<SVGSVGElement>(null);
  const kept = useStore((s) => s.kept);
  const keptFigures = useStore((s) => s.answers.kept);
  const held = useStore((s) => heldCommand(s.design.control) !== undefined);
  const curves = figures.detail!.mains!;
  const { rms, crest } = figures.mains!;
  const seen = useStore((s) => s.point.angle) ?? Math.PI / 2;
  const overlays = kept.flatMap((k, i) => {
    const found = k.visible ? keptFigures[k.id]?.detail?.mains : undefined;
    return found ? [{ curves: found, style: keptStyle(i) }] : [];
  });
  const all = [curves, ...overlays.map((o) => o.curves)];
  const right = width - RIGHT;
  const seconds = (angle: number): number => angle / (2 * Math.PI * mains);
  const x = scaleLinear([0, seconds(Math.PI)], [LEFT, right]);
  const middle = TOP + (height - TOP - BOTTOM - GAP) * CURRENT;
  const amps = scaleLinear([0, Math.max(...all.flatMap((c) => c.largest)) * 1.05], [middle, TOP]);
  const swing = Math.max(...all.flatMap((c) => c.output.map(Math.abs))) * 1.25;
  const volts = scaleLinear([-swing, swing], [height - BOTTOM, middle + GAP]);
  const time = curves.angle.map(seconds);
  const band = area<number>()
    .x((_, i) => x(time[i]!))
    .y0((_, i) => amps(curves.least[i]!))
    .y1((_, i) => amps(curves.largest[i]!));
  // A little away from the crossing: there is nothing to settle where nothing is drawn.
  const move = (angle: number): void => actions.movePoint({ angle: Math.min(Math.PI / 2, Math.max(curves.angle[2]!, angle)) });
  const drag = (e: PointerEvent): void => {
    if (e.buttons !== 1) return;
    const angle = x.invert(e.clientX - svg.current!.getBoundingClientRect().left) * 2 * Math.PI * mains;
    move(angle > Math.PI / 2 ? Math.PI - angle : angle);
  };
  const onKeyDown = (e: KeyboardEvent): void => {
    const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
    if (by) move(seen + ((by * Math.PI) / 180) * (e.shiftKey ? 10 : 2));
  };
  const degrees = Math.round((seen * 180) / Math.PI);
  const at = x(seconds(seen));
  return (
    <div ref={box} style={{ height: '100%', overflow: 'hidden' }}>
      {width > 0 && height > 0 && (
        <svg ref={svg} width={width} height={height} role="group" aria-label="Half a cycle of the mains" data-testid="mains" onPointerDown={drag} onPointerMove={drag}>
          <rect x={LEFT} y={TOP} width={right - LEFT} height={height - TOP - BOTTOM} fill="transparent" />
          <XAxis scale={x} unit="s" y0={TOP} y1={height - BOTTOM} count={7} />
          <YAxis scale={amps} unit="A" x0={LEFT} x1={right} count={3} />
          <YAxis scale={volts} unit="V" x0={LEFT} x1={right} count={2} />
          <path d={band(time)!} fill="var(--spruce)" opacity={0.25} />
          {overlays.map((o, i) => (
            <g key={i} fill="none" stroke={o.style.colour} strokeDasharray={o.style.dash.join(' ')} strokeWidth={1.6}>
              <path d={tracePath(o.curves.angle.map(seconds), o.curves.drawn, x, amps)} />
              <path d={tracePath(o.curves.angle.map(seconds), o.curves.output, x, volts)} />
            </g>
          ))}
          <path d={tracePath(time, curves.drawn, x, amps)} fill="none" stroke="var(--spruce)" strokeWidth={2} />
          <path d={tracePath(time, curves.output, x, volts)} fill="none" stroke="var(--slate)" strokeWidth={2} />
          <g className={plots.label} fontWeight={650}>
            <text y={TOP + 11} fill="var(--spruce)">
              {held ? 'Drawn over the mains' : 'L1 over the mains'}
            </text>
            <text y={middle + GAP + 11} fill="var(--slate)">
              Output over the mains
            </text>
          </g>
          <g className={plots.mono} fill="var(--muted)">
            <text y={TOP + 26}>{print(crest, 'A')} crest</text>
            <text y={TOP + 39}>{print(rms, 'A')} rms from it</text>
            <text y={middle + GAP + 26} data-testid="mains-ripple">{print(figures.cycle.outputRipple, 'V')} pp in all</text>
          </g>
          <g className={plots.handle} data-dragged tabIndex={0} role="slider" aria-label="Angle of the mains in view" aria-valuemin={0} aria-valuemax={90} aria-valuenow={degrees} aria-valuetext={`${degrees}°`} onKeyDown={onKeyDown}>
            <line x1={at} x2={at} y1={TOP} y2={height - BOTTOM} stroke="transparent" strokeWidth={14} />
            <line x1={at} x2={at} y1={TOP} y2={height - BOTTOM} stroke="var(--ink)" strokeWidth={1.4} />
            <rect x={at - 17} y={TOP} width={34} height={15} rx={4} className={plots.halo} style={{ fill: 'var(--ink)' }} />
            <text x={at} y={TOP + 11} textAnchor="middle" fill="var(--card)" className={plots.mono}>
              {degrees}°
            </text>
          </g>
        </svg>
      )}
    </div>
  );
}
