'use client';
import { useState } from 'react';
import { printQuantity as print, SERIES } from '../../../core/quantity';
import { topologyOf } from '../../../core/design';
import { remedyOf } from '../../../core/evaluation';
import { WorkingCard } from '../../frame/WorkingCard';
import { useShelf } from '../../state/shelf';
import { actions, useStore } from '../../state/store';
import { choosable } from '../rows';
import css from '../stages.module.css';
import frame from '../../frame/frame.module.css';
import { calledPart } from '../../../core/parts/edited';
import type { Sizing } from '../../../core/topology';
import { Branches } from './Branches';
import { Candidates } from './Candidates';
import { ChooseAnew } from './ChooseAnew';
import { EdgesView } from './EdgesView';
import { Frequencies } from './Frequencies';
import { Shelf } from './Shelf';
import { StressBars } from './StressBars';
import { WindingView } from './WindingView';

const VIEWS = ['parts', 'winding', 'edges', 'topologies', 'frequency', 'shelf'] as const;

/** The parts of the power stage, or every topology held against the brief. */
export function PowerStage() {
  const [view, setView] = useState<(typeof VIEWS)[number]>('parts');
  const design = useStore((s) => s.design);
  const { sizing } = useStore((s) => s.answers.figures)!;
  const topology = topologyOf(design)!;
  return (
    <div className={css.stack}>
      <div className={css.head}>
        <h2 style={{ margin: 0 }}>
          {topology.title} <span className="muted" style={{ fontWeight: 400 }}>duty {print(sizing.duty.min, '%')} to {print(sizing.duty.max, '%')} over the region</span>
        </h2>
        <div className={css.tabs} role="group" aria-label="Show">
          {VIEWS.map((v) => (
            <button key={v} type="button" className={frame.chip} aria-pressed={view === v} onClick={() => setView(v)}>
              {v}
            </button>
          ))}
        </div>
      </div>
      <div style={{ flex: 1, minHeight: 0, overflow: 'auto' }}>{view === 'parts' ? <Parts /> : view === 'winding' ? <WindingView /> : view === 'edges' ? <EdgesView /> : view === 'shelf' ? <Shelf /> : view === 'frequency' ? <Frequencies /> : <Candidates />}</div>
    </div>
  );
}

/** Every part with what is wanted and what is taken, stress against rating, and the working of the one selected. */
function Parts() {
  const design = useStore((s) => s.design);
  const shelf = useShelf();
  const selected = useStore((s) => s.selected);
  const { figures, corners, cornersFresh } = useStore((s) => s.answers);
  const topology = topologyOf(design)!;
  const sizing = figures!.sizing;
  const values = Object.entries(sizing.values).filter(([key, v]) => (v.slot ?? key) === selected).map(([, v]) => v);
  const [value] = values;
  return (
    <div className={css.columns} style={{ gridTemplateColumns: 'minmax(0, 1fr) 272px' }}>
      <div>
        <table className={css.list} data-testid="sizes">
          <thead>
            <tr>
              <th>part</th>
              <th>from the shelf</th>
              <th style={{ textAlign: 'right' }}>wanted</th>
              <th style={{ textAlign: 'right' }}>taken</th>
              <th>how</th>
            </tr>
          </thead>
          <tbody>
            {topology.slots.map((p) => {
              const v = sizing.values[p.id];
              return (
                <tr key={p.id} aria-selected={p.id === selected} {...choosable(() => actions.select(p.id))}>
                  <td>
                    <b>{p.id}</b> <span className="muted">{p.title}{(p.copies ?? 1) > 1 ? `, ${p.copies} alike` : ''}</span>
                  </td>
                  <td style={{ whiteSpace: 'nowrap' }}>{calledPart(design.parts[p.id]!, shelf)}</td>
                  <td className={css.number}>{v ? (v.wanted > 0 ? `≥ ${print(v.wanted, v.unit)}` : '') : sizing.blocking[p.id] ? `≥ ${print(sizing.blocking[p.id]!.wanted, 'V')}` : ''}</td>
                  <td className={`${css.number} ${v && v.taken < v.wanted ? css.fails : ''}`}>{v ? print(v.taken, v.unit) : ratingOf(design.parts[p.id]!)}</td>
                  <td className="muted">{v ? [v.how, turnsOf(sizing.values, p.id)].filter(Boolean).join('; ') : 'blocking'}</td>
                </tr>
              );
            })}
          </tbody>
        </table>
        <ChooseAnew />
        <Branches />
        <label className="muted">
          values rounded to{' '}
          <select className={frame.select} aria-label="Preferred numbers" value={design.series ?? ''} onChange={(e) => actions.edit({ series: e.target.value || undefined })}>
            <option value="">what is usual</option>
            {Object.keys(SERIES).map((s) => (
              <option key={s} value={s}>
                {s}
              </option>
            ))}
          </select>
        </label>
        <h3>Stress of rating, worst of the corners</h3>
        {corners?.stresses.map((s) => {
          const remedy = remedyOf(s, design.requirements.ratings.limit);
          return remedy && <p key={s.id} className={css.fails} style={{ margin: '2px 0' }}>{remedy}</p>;
        })}
        <div className={cornersFresh ? '' : 'stale'}>{corners && <StressBars stresses={corners.stresses} limit={design.requirements.ratings.limit} />}</div>
      </div>
      <div style={{ overflow: 'auto' }}>
        <h2>Working: {value ? selected : 'duty'}</h2>
        {(value ? values.flatMap((v) => v.workings) : sizing.duty.workings).map((w) => (
          <div key={w.title}>
            <div className="muted">{w.title}</div>
            <WorkingCard working={w} />
          </div>
        ))}
        {value && (
          <p>
            taken: <b className="mono">{print(value.taken, value.unit)}</b>, {value.how}
            {value.overridden && <span className="muted"> (suggested {print(value.suggested, value.unit)})</span>}
          </p>
        )}
        {value && value.taken < value.wanted && (
          <p className={css.fails}>
            {print(value.taken, value.unit)} is less than the brief wants. Take {print(value.suggested, value.unit)} or more.
          </p>
        )}
      </div>
    </div>
  );
}

/** "24 : 7 turns" of a transformer. */
const turnsOf = (values: Sizing['values'], id: string): string => {
  const turns = ['primary', 'secondary', 'third'].flatMap((w) => values[`${id} ${w}`]?.taken ?? []);
  return turns.length > 0 ? `${turns.join(' : ')} turns` : '';
};

const ratingOf = (part: { kind: string; blockingVoltage?: number }): string => (part.kind === 'switch' || part.kind === 'diode' ? print(part.blockingVoltage!, 'V') : '');
