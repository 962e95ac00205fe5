'use client';
import { useEffect, useState } from 'react';
import { candidateCount, type Candidate } from '../../../core/choice';
import { printQuantity as print } from '../../../core/quantity';
import { askCandidates } from '../../state/live';
import { actions, useStore } from '../../state/store';
import frame from '../../frame/frame.module.css';
import css from '../stages.module.css';

type Figures = NonNullable<Candidate['figures']>;
type Key = Exclude<keyof Figures, 'duty' | 'efficiency'> | 'title';

/** Each column: what it is, how it reads, and whether less is better (all but the zero). */
const COLUMNS: { key: Key; title: string; hint: string; text: (f: Figures) => string; value: (f: Figures) => number; moreIsBetter?: true }[] = [
  { key: 'switchStress', title: 'switch stress', hint: 'blocked voltage times peak current, switches and diodes together', text: (f) => print(f.switchStress, 'VA'), value: (f) => f.switchStress },
  { key: 'capacitorCurrent', title: 'capacitors', hint: 'rms currents of all capacitors together', text: (f) => print(f.capacitorCurrent, 'A'), value: (f) => f.capacitorCurrent },
  { key: 'storedEnergy', title: 'stored', hint: 'energy in the inductors at their peak currents: the size of the magnetics', text: (f) => print(f.storedEnergy, 'J'), value: (f) => f.storedEnergy },
  { key: 'loss', title: 'loss', hint: 'at full load and the middle of the line, at its temperatures', text: (f) => print(f.loss, 'W'), value: (f) => f.loss },
  { key: 'partCount', title: 'parts', hint: 'power parts, those in parallel counted', text: (f) => String(f.partCount), value: (f) => f.partCount },
  { key: 'rightHalfPlaneZero', title: 'right-half-plane zero', hint: 'lowest over the region: the loop has to stay well below', text: (f) => (f.rightHalfPlaneZero === undefined ? 'none' : print(f.rightHalfPlaneZero, 'Hz')), value: (f) => f.rightHalfPlaneZero ?? Infinity, moreIsBetter: true },
];

/** Every topology held against the brief: those that serve it in a table that sorts, those that do not with the reason. */
export function Candidates() {
  const design = useStore((s) => s.design);
  const { candidates, candidatesOf, candidatesProgress } = useStore((s) => s.answers);
  const [by, setBy] = useState<Key>('loss');
  useEffect(() => askCandidates(design), [design]);
  if (!candidates) return <p className="muted">holding every topology against the brief …</p>;
  const column = COLUMNS.find((c) => c.key === by);
  const able = candidates
    .filter((c): c is Candidate & { figures: Figures } => c.figures !== undefined)
    .sort((a, b) => (column ? (column.value(a.figures) - column.value(b.figures)) * (column.moreIsBetter ? -1 : 1) || 0 : a.title.localeCompare(b.title)));
  const unable = candidates.filter((c) => c.refusal);
  const heading = (key: Key, title: string, hint: string, right = true) => (
    <th key={key} style={{ textAlign: right ? 'right' : 'left', whiteSpace: 'nowrap' }} aria-sort={by === key ? 'ascending' : 'none'}>
      <button type="button" className={frame.link} style={{ textDecorationStyle: by === key ? 'solid' : 'dotted', color: by === key ? 'var(--ink)' : undefined }} title={`${hint}; click to sort`} onClick={() => setBy(key)}>
        {title}
      </button>
    </th>
  );
  return (
    <div className={candidatesOf === design || candidatesProgress !== undefined ? '' : 'stale'}>
      {candidatesProgress !== undefined && (
        <p className="muted" style={{ margin: '0 0 6px' }} role="status">
          {Math.round(candidatesProgress * candidateCount)} of {candidateCount} topologies held against the brief{' '}
          <button type="button" className={frame.link} onClick={actions.stopCandidates}>
            stop
          </button>
        </p>
      )}
      {candidatesProgress === undefined && candidatesOf !== design && (
        <p className="muted" style={{ margin: '0 0 6px' }} role="status">
          Stopped.{' '}
          <button type="button" className={frame.link} onClick={() => askCandidates(design)}>
            hold them all against the brief
          </button>
        </p>
      )}
      <table className={css.list} data-testid="candidates">
        <thead>
          <tr>
            {heading('title', 'topology', 'by name', false)}
            <th style={{ width: 120 }}>duty, 0 to 100 %</th>
            {COLUMNS.map((c) => heading(c.key, c.title, c.hint))}
            <th />
          </tr>
        </thead>
        <tbody>
          {able.map((c) => (
            <tr key={c.id} aria-selected={c.id === design.topology} data-candidate={c.id}>
              <td style={{ whiteSpace: 'nowrap' }}>
                <b>{c.title}</b>
              </td>
              <td>
                <DutySpan {...c.figures.duty} />
              </td>
              {COLUMNS.map((k) => (
                <td key={k.key} className={css.number}>
                  {k.text(c.figures)}
                  {!k.moreIsBetter && <Share share={k.value(c.figures) / Math.max(...able.map((a) => k.value(a.figures)))} />}
                </td>
              ))}
              <td style={{ textAlign: 'right', width: 70 }}>
                {c.id === design.topology ? (
                  <span className="muted">in use</span>
                ) : (
                  <button type="button" className={frame.chip} aria-label={`Take ${c.title}`} onClick={() => actions.take(c.design!)}>
                    Take
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {unable.length > 0 && <h3>Ruled out</h3>}
      {unable.map((c) => (
        <p key={c.id} style={{ margin: '4px 0' }} data-candidate={c.id}>
          <b>{c.title}</b>{' '}
          <span className="muted">
            {c.refusal!.message}: {c.refusal!.remedy}.
          </span>
        </p>
      ))}
      <p className="muted" style={{ maxWidth: 640 }}>
        Taking one keeps the parts that still fit and finds the rest on the shelf; the crossover comes down below a quarter of a
        right-half-plane zero and half of what rings. Ctrl Z goes back.
      </p>
    </div>
  );
}

const Share = ({ share }: { share: number }) => (
  <div style={{ height: 3, borderRadius: 2, background: 'var(--line)', marginTop: 2 }}>
    <div style={{ height: 3, borderRadius: 2, background: 'var(--slate)', width: `${Math.max(2, 100 * share)}%` }} />
  </div>
);

/** The span of the duty over the region, on the whole period. */
const DutySpan = ({ min, max }: { min: number; max: number }) => (
  <div>
    <div style={{ position: 'relative', height: 8, borderRadius: 4, background: 'var(--line)' }}>
      <div style={{ position: 'absolute', height: 8, borderRadius: 4, background: 'var(--spruce)', left: `${100 * min}%`, width: `${Math.max(1.5, 100 * (max - min))}%` }} />
    </div>
    <span className="mono muted" style={{ fontSize: 11 }}>
      {print(min, '%', 2)} to {print(max, '%', 2)}
    </span>
  </div>
);
