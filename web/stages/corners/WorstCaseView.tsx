'use client';
import { useMemo, useState } from 'react';
import { meets, requirementNamed } from '../../../core/corners/requirements';
import type { WorstCase } from '../../../core/corners/worstCase';
import type { Design, RequirementId } from '../../../core/design';
import type { Result } from '../../../core/problem';
import { printQuantity as print } from '../../../core/quantity';
import type { OperatingPoint } from '../../../core/topology';
import frame from '../../frame/frame.module.css';
import { useStore } from '../../state/store';
import { useAsked, type Engine } from '../../workers/useAsked';
import { pointName } from '../pointName';
import { choosable } from '../rows';
import css from '../stages.module.css';
import type { useRegion } from './RegionOf';

interface Case {
  id: RequirementId;
  at: OperatingPoint;
  found?: WorstCase;
}
/** Every requirement, each at the point where it is tightest. */
const askAll = async (engine: Engine, design: Design, points: readonly { id: RequirementId; at: OperatingPoint }[]): Promise<Result<Case[]>> => ({
  ok: true,
  value: await Promise.all(points.map(async ({ id, at }) => {
    const found = await engine.worstCase(design, id, at);
    return { id, at, ...(found.ok ? { found: found.value } : {}) };
  })),
});

/** Values that are named of one */
const SHOWN = 6;

/** Every requirement with all values at their worst: by the slopes of each alone, and with every one of them at an end. */
export function WorstCaseView({ region }: { region: ReturnType<typeof useRegion> }) {
  const design = useStore((s) => s.design);
  const args = useMemo((): [Design, { id: RequirementId; at: OperatingPoint }[]] | undefined => region && [region.design, region.verdict.worst.map(({ id, at }) => ({ id, at }))], [region]);
  const asked = useAsked(askAll, args);
  const [open, setOpen] = useState<RequirementId>();
  if (!asked?.value) return <p className="muted" role="status">Turning every value to its ends …</p>;
  const chosen = asked.value.find((c) => c.id === open) ?? asked.value[0];
  return (
    <div className={asked.args[0] === design ? '' : 'stale'} data-testid="worst-case">
      <table className={css.list}>
        <thead>
          <tr>
            <th>all values at their worst</th>
            <th style={{ textAlign: 'right' }}>as designed</th>
            <th style={{ textAlign: 'right' }} title="Root of the sum of squares of what each value moves it by, three standard deviations">root of squares</th>
            <th style={{ textAlign: 'right' }} title="Sum of what each value moves it by">sum</th>
            <th style={{ textAlign: 'right' }} title="Solved with every value at one of its ends">vertex</th>
          </tr>
        </thead>
        <tbody>
          {asked.value.map(({ id, at, found }) => {
            const { title, unit, direction } = requirementNamed(id);
            const { limit } = asked.args[0].requirements[id];
            return (
              <tr key={id} {...choosable(() => setOpen(id))} aria-selected={chosen?.id === id}>
                <td>
                  {title} {direction === 'at most' ? '≤' : '≥'} {print(limit, unit)}
                  <div className="muted mono" style={{ fontSize: 11 }}>
                    at {pointName(at)}
                  </div>
                </td>
                {found ? [found.nominal, found.rootSquare, found.extreme, found.vertex].map((v, k) => <td key={k} className={`${css.number} ${meets(id, limit, v) ? '' : css.fails}`}>{print(v, unit)}</td>) : <td colSpan={4} className="muted">no figure</td>}
              </tr>
            );
          })}
        </tbody>
      </table>
      {chosen?.found && (
        <>
          <h3>What moves the {requirementNamed(chosen.id).title} to its worse end</h3>
          {chosen.found.by.slice(0, SHOWN).map((b) => (
            <div className={frame.row} key={b.path}>
              <span>{b.title}</span>
              <span className="mono">
                {b.by < 0 ? '−' : '+'}
                {print(Math.abs(b.by), requirementNamed(chosen.id).unit, 2)}
              </span>
            </div>
          ))}
        </>
      )}
    </div>
  );
}
