'use client';
import { scaleLinear } from 'd3';
import type { Design } from '../../../core/design';
import type { WithLoop } from '../../../core/evaluation';
import { printQuantity as print } from '../../../core/quantity';
import { tracePath } from '../../plots/axes';
import { keptStyle } from '../../plots/keptStyle';
import plots from '../../plots/plots.module.css';
import { useStore } from '../../state/store';

/** By what a step is answered, in words. */
const ANSWERED = { linearised: 'by the period map, linearised: it holds for a step of this size', 'in time': 'the circuit run in time: the step is too large for a linear answer', 'voltage loop': 'by the voltage loop, slow against the mains' };

const NO_LIMIT = { limit: 0, on: false };

const WIDTH = 246;
const HEIGHT = 84;

export const STEPS = ['load', 'line', 'reference'] as const;
export type StepOf = (typeof STEPS)[number];
export const CURVE = { load: 'step', line: 'lineStep', reference: 'referenceStep' } as const;
const LIMIT = { load: 'deviation', line: 'lineDeviation' } as const;

/** "4 A load step" */
export function stepTitle(of: StepOf, { loop }: WithLoop, { brief }: Design): string {
  const size = of === 'load' ? print(brief.loadStep, 'A', 2) : of === 'line' ? print(loop.line!.step, 'V', 2) : print(loop.reference!.change, 'V', 2);
  return `${size.replace('.0 ', ' ')} ${of} step`;
}

/** The output after the load step or the line step of the brief, kept states beside it; the allowed deviation as a line. */
export function StepPlot({ figures, of }: { figures: WithLoop; of: StepOf }) {
  const kept = useStore((s) => s.kept);
  const keptFigures = useStore((s) => s.answers.kept);
  const limit = useStore((s) => (of === 'reference' ? NO_LIMIT : s.design.requirements[LIMIT[of]]));
  const step = figures.detail![CURVE[of]]!;
  const { loop } = figures;
  const { deviation, recovery } = of === 'reference' ? { deviation: loop.reference!.change, recovery: loop.reference!.settles } : of === 'load' ? loop : loop.line!;
  const others = kept.flatMap((k, i) => {
    const found = k.visible ? keptFigures[k.id]?.detail?.[CURVE[of]] : undefined;
    return found ? [{ step: found, style: keptStyle(i) }] : [];
  });
  if (!figures.loop.stable) return <p className="muted">The loop is not stable: there is no step response to show.</p>;
  if (step.time.length === 0) return <p className="muted">The circuit can not be followed through this step.</p>;
  const duration = step.time.at(-1)!;
  const all = [step, ...others.map((o) => o.step)].flatMap((s) => s.value);
  // Which way it goes first: a load that rises pulls the output down, a line that rises lifts it.
  const way = Math.max(...step.value) > -Math.min(...step.value) ? 1 : -1;
  const far = way * limit.limit;
  const low = Math.min(...all, limit.on ? far : 0, way > 0 ? -Math.max(...all) * 0.25 : 0);
  const high = Math.max(...all, limit.on ? far : 0, way < 0 ? -low * 0.25 : 0);
  const x = scaleLinear([0, duration], [0, WIDTH]);
  const y = scaleLinear([low * 1.08, high * 1.08], [HEIGHT - 16, 4]);
  // At the end, where the curve has come back: between the settled output and the farthest.
  const middle = (y(0) + y(way < 0 ? low : high)) / 2;
  // Two lines of text, clear of the limit.
  const textAt = limit.on && Math.abs(y(far) - (middle + 5)) < 16 ? middle + (y(far) > middle + 5 ? y(far) - middle - 21 : y(far) - middle + 13) : middle;
  const fails = limit.on && deviation > limit.limit;
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} width="100%" role="img" aria-label={`Output after the ${of} step, ${ANSWERED[figures.loop.answeredBy]}`}>
      <title>{ANSWERED[figures.loop.answeredBy]}</title>
      <line x1={0} x2={WIDTH} y1={y(0)} y2={y(0)} stroke="var(--line)" />
      {limit.on && <line x1={0} x2={WIDTH} y1={y(far)} y2={y(far)} stroke="var(--fail)" strokeDasharray="4 3" />}
      {others.map((o, i) => (
        <path key={i} d={tracePath(o.step.time, o.step.value, x, y)} fill="none" stroke={o.style.colour} strokeDasharray={o.style.dash.join(' ')} strokeWidth={1.5} />
      ))}
      <path d={tracePath(step.time, step.value, x, y)} fill="none" stroke="var(--spruce)" strokeWidth={2} />
      <g className={plots.mono}>
        <text x={WIDTH} textAnchor="end" y={textAt} fill={fails ? 'var(--fail)' : 'var(--ink)'} fontWeight={600} data-testid="deviation">
          {of === 'reference' ? `${print(loop.reference!.overshoot, '%', 2)} beyond` : print(deviation, 'V')}
          {limit.on ? ` of ${print(limit.limit, 'V')}` : ''}
        </text>
        <text x={0} y={HEIGHT - 2} fill="var(--muted)">0</text>
        <text x={WIDTH} y={HEIGHT - 2} textAnchor="end" fill="var(--muted)">{print(duration, 's')}</text>
        <text x={WIDTH} textAnchor="end" y={textAt + 13} fill="var(--muted)">
          {Number.isFinite(recovery) ? `${of === 'reference' ? `rises in ${print(loop.reference!.rise, 's', 2)}, there at` : 'a tenth left at'} ${print(recovery, 's', 2)}` : 'still ringing at the end'}
        </text>
      </g>
    </svg>
  );
}
