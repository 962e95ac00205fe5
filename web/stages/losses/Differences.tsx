'use client';
import type { Figures } from '../../../core/evaluation';
import { MECHANISMS } from '../../../core/loss';
import { printQuantity as print } from '../../../core/quantity';
import css from '../stages.module.css';

const TITLE = new Map<string, string>(Object.values(MECHANISMS).flat().map((m): [string, string] => [m.id, 'short' in m && m.short ? m.short : m.title]));
/** Rows at most: what differs by less than a hundredth of the largest difference is left out as well */
const [MOST, LEAST] = [12, 0.01];

/** What is lost otherwise than in a kept state, part by part and mechanism by mechanism, the largest difference first. */
export function Differences({ now, then, label }: { now: Figures; then: Figures; label: string }) {
  const watts = (f: Figures): Map<string, number> => new Map(f.losses.parts.flatMap((p) => Object.entries(p.mechanisms).map(([id, w]): [string, number] => [`${p.id} ${TITLE.get(id) ?? id}`, w])));
  const [a, b] = [watts(now), watts(then)];
  const rows = [...new Set([...a.keys(), ...b.keys()])]
    .map((id) => ({ id, now: a.get(id) ?? 0, then: b.get(id) ?? 0 }))
    .toSorted((p, q) => Math.abs(q.now - q.then) - Math.abs(p.now - p.then));
  const largest = Math.abs((rows[0]?.now ?? 0) - (rows[0]?.then ?? 0));
  const shown = rows.filter((r) => Math.abs(r.now - r.then) > Math.max(1e-9, LEAST * largest)).slice(0, MOST);
  if (shown.length === 0) return <p className="muted">Nothing is lost otherwise than in {label}.</p>;
  return (
    <>
      <h3>What is lost otherwise than in {label}</h3>
      <table className={css.list} data-testid="differences">
        <thead>
          <tr>
            <th />
            <th style={{ textAlign: 'right' }}>now</th>
            <th style={{ textAlign: 'right' }}>more</th>
          </tr>
        </thead>
        <tbody>
          {shown.map((r) => (
            <tr key={r.id}>
              <td>{r.id}</td>
              <td className={css.number}>{print(r.now, 'W')}</td>
              <td className={css.number}>
                {r.now < r.then ? '−' : '+'}
                {print(Math.abs(r.now - r.then), 'W')}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
