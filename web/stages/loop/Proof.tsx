'use client';
import { scaleLinear } from 'd3';
import { useState } from 'react';
import type { Design } from '../../../core/design';
import type { Proof, WithLoop } from '../../../core/evaluation';
import { inWords, type Problem } from '../../../core/problem';
import { printQuantity as print } from '../../../core/quantity';
import type { OperatingPoint } from '../../../core/topology';
import frame from '../../frame/frame.module.css';
import { tracePath } from '../../plots/axes';
import plots from '../../plots/plots.module.css';
import { useStore } from '../../state/store';
import { jobs } from '../../workers/pool';
import css from '../stages.module.css';

const [WIDTH, HEIGHT] = [246, 70];

/** The exported integers run on the converter itself: at rest, and through the load step, over what the exact loop does. */
export function ProofOf({ figures }: { figures: WithLoop }) {
  const design = useStore((s) => s.design);
  const point = useStore((s) => s.point);
  const [busy, setBusy] = useState(false);
  const [found, setFound] = useState<{ design: Design; point: OperatingPoint } & ({ proof: Proof } | { problem: Problem })>();
  const ask = async (): Promise<void> => {
    setBusy(true);
    try {
      const proof = await jobs().at('asked').prove(design, point);
      setFound({ design, point, ...(proof.ok ? { proof: proof.value } : { problem: proof.problem }) });
    } catch {
      // A worker that died twice: nothing is shown.
    } finally {
      setBusy(false);
    }
  };
  const told = found?.design === design && found.point === point ? found : undefined;
  return (
    <div data-testid="proof">
      <button type="button" className={frame.link} disabled={busy} title="The integers of the C file in the loop of the running converter" onClick={() => void ask()}>
        {busy ? 'running …' : 'run these integers on the converter'}
      </button>
      {told && 'problem' in told && <p className={css.fails} style={{ margin: 0 }}>{inWords(told.problem)}</p>}
      {told && 'proof' in told && <Drawn proof={told.proof} figures={figures} />}
    </div>
  );
}

function Drawn({ proof, figures }: { proof: Proof; figures: WithLoop }) {
  const ideal = figures.detail!.step!;
  const end = proof.time.at(-1)!;
  const all = [...proof.value, ...ideal.value];
  const x = scaleLinear([0, end], [0, WIDTH]);
  const y = scaleLinear([Math.min(...all) * 1.08, Math.max(...all, -Math.min(...all) * 0.25) * 1.08], [HEIGHT - 4, 4]);
  const within = ideal.time.flatMap((t, i) => (t <= end ? [i] : []));
  return (
    <>
      <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} width="100%" role="img" aria-label="Output after the load step: in integers, over the exact loop">
        <line x1={0} x2={WIDTH} y1={y(0)} y2={y(0)} stroke="var(--line)" />
        <path d={tracePath(within.map((i) => ideal.time[i]!), within.map((i) => ideal.value[i]!), x, y)} fill="none" stroke="var(--muted)" strokeWidth={1.5} strokeDasharray="1 3" />
        <path d={tracePath(proof.time, proof.value, x, y)} fill="none" stroke="var(--spruce)" strokeWidth={1.8} />
        <text x={WIDTH} y={HEIGHT - 6} textAnchor="end" className={plots.mono} fill="var(--ink)">{print(proof.deviation, 'V')}</text>
      </svg>
      <p className="muted" style={{ margin: 0, lineHeight: 1.35 }}>
        In integers, dotted exact. At rest it wanders by {proof.wanders.counts} {proof.wanders.counts === 1 ? 'count' : 'counts'}, {print(proof.wanders.volts, 'V', 2)} of the output.
      </p>
    </>
  );
}
