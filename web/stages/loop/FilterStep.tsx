'use client';
import { scaleLinear } from 'd3';
import { useMemo } from 'react';
import { filterAlone } from '../../../core/evaluation/filterAlone';
import type { LadderStep } from '../../../core/noise/ladderStep';
import { printQuantity as print } from '../../../core/quantity';
import { tracePath } from '../../plots/axes';
import { keptStyle } from '../../plots/keptStyle';
import plots from '../../plots/plots.module.css';
import { useStore } from '../../state/store';

const [WIDTH, HEIGHT] = [246, 120];

/** What the line delivers after 1 A more is drawn behind its filter, those of kept states beside it. */
export function FilterStep({ step }: { step: LadderStep }) {
  const kept = useStore((s) => s.kept);
  const others = useMemo(
    () =>
      kept.flatMap((k, i) => {
        const then = k.visible ? filterAlone(k.design) : undefined;
        return then?.ok ? [{ step: then.value.step, style: keptStyle(i) }] : [];
      }),
    [kept],
  );
  const lasts = step.time.at(-1)!;
  const all = [step, ...others.map((o) => o.step)].flatMap((s) => s.value);
  const x = scaleLinear([0, lasts], [0, WIDTH]);
  const y = scaleLinear([Math.min(0, ...all), Math.max(1.1, ...all)], [HEIGHT - 16, 6]);
  return (
    <section data-testid="filter-step">
      <h3 style={{ marginTop: 0 }}>Line after a step of what is drawn</h3>
      <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} width="100%" role="img" aria-label={`Current of the line after a step of the current drawn: ${print(step.overshoot, '%', 2)} beyond`}>
        <clipPath id="filter-step">
          <rect x={0} y={0} width={WIDTH} height={HEIGHT - 14} />
        </clipPath>
        <line x1={0} x2={WIDTH} y1={y(0)} y2={y(0)} stroke="var(--line)" />
        <line x1={0} x2={WIDTH} y1={y(1)} y2={y(1)} stroke="var(--line)" strokeDasharray="4 3" />
        <g clipPath="url(#filter-step)" fill="none">
          {others.map((o, i) => (
            <path key={i} d={tracePath(o.step.time, o.step.value, x, y)} stroke={o.style.colour} strokeDasharray={o.style.dash.join(' ')} strokeWidth={1.5} />
          ))}
          <path d={tracePath(step.time, step.value, x, y)} stroke="var(--spruce)" strokeWidth={2} />
        </g>
        <g className={plots.mono} fill="var(--muted)">
          <text x={0} y={HEIGHT - 2}>0</text>
          <text x={WIDTH} y={HEIGHT - 2} textAnchor="end">{print(lasts, 's')}</text>
          <text x={WIDTH} y={y(0) - 22} textAnchor="end" fill="var(--ink)" fontWeight={600}>{print(step.overshoot, '%', 2)} beyond</text>
          <text x={WIDTH} y={y(0) - 8} textAnchor="end">{Number.isFinite(step.settles) ? `within 5 % at ${print(step.settles, 's', 2)}` : 'still ringing at the end'}</text>
        </g>
      </svg>
    </section>
  );
}
