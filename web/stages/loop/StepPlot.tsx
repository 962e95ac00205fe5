'use client';
import { scaleLinear } from 'd3';
import type { Figures } from '../../../core/design';
import { printQuantity as print } from '../../../core/quantity';
import { tracePath } from '../../plots/axes';
import { keptStyle } from '../../plots/keptStyle';
import plots from '../../plots/plots.module.css';
import { useStore } from '../../state/store';

const WIDTH = 246;
const HEIGHT = 84;

/** The output after the load step of the brief, kept states beside it; the allowed deviation as a line. */
export function StepPlot({ figures }: { figures: Figures }) {
  const kept = useStore((s) => s.kept);
  const keptFigures = useStore((s) => s.answers.kept);
  const limit = useStore((s) => s.design.requirements.deviation);
  const { step } = figures.detail!;
  const others = kept.flatMap((k, i) => {
    const found = k.visible ? keptFigures[k.id]?.detail?.step : undefined;
    return found ? [{ step: found, style: keptStyle(i) }] : [];
  });
  if (!figures.loop.stable) return <p className="muted">The loop is not stable: there is no step response to show.</p>;
  const duration = step.time.at(-1)!;
  const all = [step, ...others.map((o) => o.step)].flatMap((s) => s.value);
  const low = Math.min(...all, limit.on ? -limit.limit : 0);
  const high = Math.max(...all, -low * 0.25);
  const x = scaleLinear([0, duration], [0, WIDTH]);
  const y = scaleLinear([low * 1.08, high], [HEIGHT - 16, 4]);
  const fails = limit.on && figures.loop.deviation > limit.limit;
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} width="100%" role="img" aria-label="Output after the load step">
      <line x1={0} x2={WIDTH} y1={y(0)} y2={y(0)} stroke="var(--line)" />
      {limit.on && <line x1={0} x2={WIDTH} y1={y(-limit.limit)} y2={y(-limit.limit)} stroke="var(--fail)" strokeDasharray="4 3" />}
      {others.map((o, i) => (
        <path key={i} d={tracePath(o.step.time, o.step.value, x, y)} fill="none" stroke={o.style.colour} strokeDasharray={o.style.dash.join(' ')} strokeWidth={1.5} />
      ))}
      <path d={tracePath(step.time, step.value, x, y)} fill="none" stroke="var(--spruce)" strokeWidth={2} />
      <g className={plots.mono}>
        <text x={WIDTH * 0.32} y={y(-figures.loop.deviation * 0.8)} fill={fails ? 'var(--fail)' : 'var(--ink)'} fontWeight={600} data-testid="deviation">
          {print(figures.loop.deviation, 'V')}
          {limit.on ? ` of ${print(limit.limit, 'V')}` : ''}
        </text>
        <text x={0} y={HEIGHT - 2} fill="var(--muted)">0</text>
        <text x={WIDTH} y={HEIGHT - 2} textAnchor="end" fill="var(--muted)">{print(duration, 's')}</text>
        <text x={WIDTH * 0.32} y={y(-figures.loop.deviation * 0.8) + 14} fill="var(--muted)">
          {Number.isFinite(figures.loop.recovery) ? `a tenth left at ${print(figures.loop.recovery, 's', 2)}` : 'still ringing at the end'}
        </text>
      </g>
    </svg>
  );
}
