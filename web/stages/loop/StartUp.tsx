'use client';
import { scaleLinear } from 'd3';
import { useEffect, useState } from 'react';
import type { Design } from '../../../core/design';
import type { StartUp } from '../../../core/schedule';
import { inWords, type Result } from '../../../core/problem';
import { printQuantity as print } from '../../../core/quantity';
import type { OperatingPoint } from '../../../core/topology';
import plots from '../../plots/plots.module.css';
import { useStore } from '../../state/store';
import { jobs } from '../../workers/pool';
import css from '../stages.module.css';

const WIDTH = 246;
const HEIGHT = 84;

/** The output from when the converter is switched on, run in time when it is looked at. */
export function StartUpPlot() {
  const design = useStore((s) => s.design);
  const point = useStore((s) => s.point);
  const [found, setFound] = useState<{ design: Design; point: OperatingPoint; run: Result<StartUp> }>();
  useEffect(() => {
    const own = new AbortController();
    jobs()
      .at('asked', own.signal)
      .startUp(design, point)
      .then((run) => !own.signal.aborted && setFound({ design, point, run }))
      // Nobody waits for it any more, or its worker died twice: what stands is of before.
      .catch(() => undefined);
    return () => own.abort();
  }, [design, point]);
  if (!found) return <p className="muted">Running it from rest …</p>;
  const { run } = found;
  if (!run.ok) return <p className={css.fails} style={{ margin: 0 }}>{inWords(run.problem)}.</p>;
  const { time, least, most, overshoot, settles, peak, of } = run.value;
  const output = design.brief.output.voltage;
  const x = scaleLinear([0, time.at(-1)!], [0, WIDTH]);
  const y = scaleLinear([Math.min(0, ...least), Math.max(...most) * 1.08], [HEIGHT - 16, 4]);
  const band = `M${most.map((v, k) => `${x(time[k]!).toFixed(1)} ${y(v).toFixed(1)}`).join('L')}L${least.map((v, k) => `${x(time[k]!).toFixed(1)} ${y(v).toFixed(1)}`).reverse().join('L')}Z`;
  return (
    <div className={found.design === design && found.point === point ? '' : 'stale'} data-testid="start-up">
      <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} width="100%" role="img" aria-label="Output from rest, least and most">
        <line x1={0} x2={WIDTH} y1={y(output)} y2={y(output)} stroke="var(--muted)" strokeDasharray="2 3" />
        <path d={band} fill="var(--spruce)" stroke="var(--spruce)" strokeWidth={1.6} strokeLinejoin="round" />
        <g className={plots.mono}>
          <text x={0} y={HEIGHT - 2} fill="var(--muted)">0</text>
          <text x={WIDTH} y={HEIGHT - 2} textAnchor="end" fill="var(--muted)">{print(time.at(-1)!, 's', 2)}</text>
          <text x={WIDTH} y={HEIGHT - 32} textAnchor="end" fill="var(--ink)" fontWeight={600}>{print(overshoot, '%', 2)} beyond</text>
          <text x={WIDTH} y={HEIGHT - 19} textAnchor="end" fill="var(--muted)">{Number.isFinite(settles) ? `there at ${print(settles, 's', 2)}, ` : ''}{of} up to {print(peak, 'A')}</text>
        </g>
      </svg>
    </div>
  );
}
