'use client';
import { useMemo, useState } from 'react';
import { choicesOf, type Choice, type Trade } from '../../../core/corners/trade';
import type { Design } from '../../../core/design';
import type { Part } from '../../../core/parts/schema';
import type { Result } from '../../../core/problem';
import { printQuantity as print } from '../../../core/quantity';
import type { OperatingPoint } from '../../../core/topology';
import frame from '../../frame/frame.module.css';
import { ChoicePlot } from '../../plots/ChoicePlot';
import { actions, useStore } from '../../state/store';
import { useAsked, type Engine } from '../../workers/useAsked';
import css from '../stages.module.css';

const askTrade = (engine: Engine, design: Design, choice: Choice, point: OperatingPoint, own: Part[]): Promise<Result<Trade>> => engine.tradeOf(design, choice, point, own);

/** What else may be chosen for the part in hand, and what each would lose and how warm it would get: every point is taken by a click. */
export function Choices() {
  const design = useStore((s) => s.design);
  const selected = useStore((s) => s.selected);
  const [of, setOf] = useState<Choice['of']>('parallel');
  const list = choicesOf(design, selected);
  const { choice, title } = list.find((c) => c.choice.of === of) ?? list[0]!;
  return (
    <>
      <div className={css.tabs} style={{ marginBottom: 8 }} role="group" aria-label="What may be chosen">
        {list.map((c) => (
          <button key={c.choice.of} type="button" className={frame.chip} aria-pressed={c.choice.of === choice.of} onClick={() => setOf(c.choice.of)}>
            {c.title}
          </button>
        ))}
        <span className="muted" style={{ alignSelf: 'center' }}>Select another part on the power path for what may be chosen there.</span>
      </div>
      <Over key={`${choice.of} ${choice.of === 'gate' ? '' : choice.slot}`} of={choice.of} slot={choice.of === 'gate' ? '' : choice.slot} title={title} />
    </>
  );
}

function Over({ of, slot, title }: { of: Choice['of']; slot: string; title: string }) {
  const design = useStore((s) => s.design);
  const point = useStore((s) => s.point);
  const own = useStore((s) => s.ownParts);
  const args = useMemo(() => [design, of === 'gate' ? { of } : { of, slot }, point, own] as [Design, Choice, OperatingPoint, Part[]], [design, of, slot, point, own]);
  const asked = useAsked(askTrade, args);
  if (asked?.problem) return <p className="muted">{`${title}: ${asked.problem.message}. ${asked.problem.remedy[0]!.toUpperCase()}${asked.problem.remedy.slice(1)}.`}</p>;
  const trade = asked?.value;
  if (!trade) return <p className="muted" role="status">Settling each of them …</p>;
  const { points, now, limit, unit } = trade;
  const serves = (t: number): boolean => t <= limit;
  const take = (i: number): void => void actions.edit(points[i]!.changes);
  const shared = {
    of: '' as const,
    ...(unit === '' ? {} : { ticks: (v: number) => (unit === 'm³' ? `${Number((v * 1e6).toPrecision(2))}` : print(v, unit, 2)) }),
    take,
  };
  const spot = of === 'core' ? 'its winding' : slot === '' ? 'hottest junction' : 'its junction';
  const least = points.reduce((a, b) => (b.total < a.total ? b : a));
  return (
    <div className={asked.args === args ? '' : 'stale'} style={{ overflow: 'auto', display: 'flex', flexWrap: 'wrap', columnGap: 28 }} data-testid="trade">
      <div style={{ width: 'calc(50% - 14px)', minWidth: 260 }}>
      <h3 style={{ marginTop: 0 }}>
        Lost over {title}
        {unit === 'm³' ? ', cm³' : ''}
      </h3>
      <ChoicePlot label={`Lost over ${title}`} points={points.map((p) => ({ x: p.x, values: [p.total, p.own], title: `${p.says}: ${print(p.total, 'W')} in all, ${print(p.own, 'W')} in ${slot || 'the switches'}`, serves: serves(p.temperature) }))} curves={[{ name: 'all', colour: 'var(--rust)' }, { name: slot || 'switches', colour: 'var(--ochre)' }]} unit="W" now={now < 0 ? undefined : { x: points[now]!.x, values: [points[now]!.total] }} {...shared} />
      </div>
      <div style={{ width: 'calc(50% - 14px)', minWidth: 260 }}>
      <h3 style={{ marginTop: 0 }}>{spot[0]!.toUpperCase() + spot.slice(1)}</h3>
      <ChoicePlot label={`Temperature over ${title}`} points={points.map((p) => ({ x: p.x, values: [p.temperature], title: `${p.says}: ${print(p.temperature, '°C', 3)}`, serves: serves(p.temperature) }))} curves={[{ name: '', colour: 'var(--plum)' }]} unit="°C" now={now < 0 ? undefined : { x: points[now]!.x, values: [points[now]!.temperature] }} limit={{ value: limit, says: `limit ${print(limit, '°C', 3)}` }} {...shared} />
      </div>
      <p style={{ margin: '8px 0', width: '100%' }}>
        Least lost: <b>{least.says}</b>, {print(least.total, 'W')}
        {now >= 0 && points[now] !== least && `, ${print(points[now]!.total - least.total, 'W', 2)} less than now`}.{' '}
        {points[now] !== least && (
          <button type="button" className={frame.link} onClick={() => void actions.edit(least.changes)}>
            Take
          </button>
        )}
      </p>
    </div>
  );
}
