'use client';
import { useMemo } from 'react';
import type { Cure, Moved } from '../../../core/corners/moves';
import { requirementNamed } from '../../../core/corners/requirements';
import type { RegionVerdict, WorstIn } from '../../../core/corners/worst';
import type { Design, RequirementId } from '../../../core/design';
import type { Result } from '../../../core/problem';
import { printQuantity as print } from '../../../core/quantity';
import type { OperatingPoint } from '../../../core/topology';
import frame from '../../frame/frame.module.css';
import { actions, useStore } from '../../state/store';
import { useAsked, type Engine } from '../../workers/useAsked';
import { pointName } from '../pointName';
import css from '../stages.module.css';

const askRegion = (engine: Engine, design: Design): Promise<Result<RegionVerdict>> => engine.worstInRegion(design);
const askMoves = (engine: Engine, design: Design, id: RequirementId, point: OperatingPoint): Promise<Result<{ moved: Moved; cure?: Cure }>> => engine.movesOf(design, id, point);

/** Moves that are shown at most */
const MOST = 6;

/** The verdict over the whole region, searched while one looks; undefined until it is there. */
export function useRegion(): { design: Design; verdict: RegionVerdict; fresh: boolean } | undefined {
  const design = useStore((s) => s.design);
  const args = useMemo((): [Design] => [design], [design]);
  const asked = useAsked(askRegion, args);
  return asked?.value && { design: asked.args[0], verdict: asked.value, fresh: asked.args === args };
}

/** What the whole region adds to a requirement's worst corner: a worse point between, and what it is nowhere worse than. */
export function between(w: WorstIn | undefined, corner: { value: number }, { brief }: Design): string {
  if (!w) return '';
  const { unit, direction } = requirementNamed(w.id);
  const where = `${pointName(w.at)}${w.at.air === brief.air.max ? '' : `, ${print(w.at.air, '°C', 3)}`}`;
  const said = [
    ...(print(w.value, unit) === print(corner.value, unit) ? [] : [`in the region ${print(w.value, unit)} at ${where}`]),
    ...(print(w.nowhere, unit) === print(w.value, unit) ? [] : [`nowhere ${direction === 'at most' ? 'above' : 'below'} ${print(w.nowhere, unit, 4)}`]),
  ];
  return said.join('; ');
}

/** What moves the tightest requirement of the region. */
export function MovesIn({ region: { design, verdict, fresh } }: { region: NonNullable<ReturnType<typeof useRegion>> }) {
  const [tightest] = verdict.worst;
  return (
    <div className={fresh ? '' : 'stale'}>
      {verdict.missing[0] && <p className={css.fails}>No figures at {pointName(verdict.missing[0].at)}: {verdict.missing[0].problem.message}.</p>}
      {tightest && Number.isFinite(tightest.value) && <MovesOf design={design} id={tightest.id} at={tightest.at} />}
    </div>
  );
}

/** By how much a hundredth more of each value moves a requirement at its worst point, and the least that makes it hold. */
function MovesOf({ design, id, at }: { design: Design; id: RequirementId; at: OperatingPoint }) {
  const args = useMemo((): [Design, RequirementId, OperatingPoint] => [design, id, at], [design, id, at]);
  const asked = useAsked(askMoves, args);
  const { title, unit } = requirementNamed(id);
  if (!asked?.value || asked.args[1] !== id) return <p className="muted" role="status">Seeing what moves the {title} …</p>;
  const { moved, cure } = asked.value;
  const most = Math.abs(moved.moves[0]?.room ?? 0);
  const signed = (v: number): string => `${v < 0 ? '−' : '+'}${print(Math.abs(v), unit, 2)}`;
  return (
    <div className={asked.args === args ? '' : 'stale'} data-testid="moves">
      <h3>1 % more moves the {title} by</h3>
      {cure && (
        <p style={{ margin: '0 0 6px' }}>
          {cure.move.title} at {print(cure.value, cure.move.unit, 3)} in place of {print(cure.move.value, cure.move.unit, 3)}: <b className="mono">{print(cure.standing.value, unit)}</b>
          {cure.standing.holds ? (moved.standing.holds ? '' : ', and it holds') : ', which is not enough'}.{' '}
          <button type="button" className={frame.link} onClick={() => void actions.edit({ [cure.move.path]: cure.value })}>
            Try it
          </button>
        </p>
      )}
      {moved.moves.slice(0, MOST).map((m) => (
        <div className={frame.row} key={m.path} title={`${m.path}, now ${print(m.value, m.unit, 3)}`}>
          <span>{m.title}</span>
          <span style={{ display: 'flex', alignItems: 'center', gap: 8 }}>
            <span style={{ width: 60, height: 5, borderRadius: 2, background: 'var(--line)', overflow: 'hidden', display: 'flex', justifyContent: m.room > 0 ? 'flex-start' : 'flex-end' }}>
              <span style={{ width: `${(100 * Math.abs(m.room)) / most}%`, background: m.room > 0 ? 'var(--spruce)' : 'var(--rust)' }} />
            </span>
            <span className="mono">{signed(m.by)}</span>
          </span>
        </div>
      ))}
    </div>
  );
}
