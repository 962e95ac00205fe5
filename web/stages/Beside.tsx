'use client';
import type { Figures } from '../../core/evaluation';
import { MECHANISMS } from '../../core/loss';
import { printQuantity as print, type UnitName } from '../../core/quantity';
import { hottestOf } from '../../core/thermal/network';
import { keptStyle } from '../plots/keptStyle';
import { useStore } from '../state/store';
import css from './stages.module.css';

const TITLE = new Map<string, string>([...Object.values(MECHANISMS).flat().map((m): [string, string] => [m.id, 'short' in m && m.short ? m.short : m.title]), ['supply', 'supply']]);
/** Rows at most: what differs by less than a hundredth of the largest difference is left out as well */
const [MOST, LEAST] = [12, 0.01];

/** W by part and mechanism, and °C of what has a limit, by name. */
export const OF = {
  losses: { unit: 'W', says: 'lost', of: (f: Figures): [string, number][] => f.losses.parts.flatMap((p) => Object.entries(p.mechanisms).map(([id, w]): [string, number] => [`${p.id} ${TITLE.get(id) ?? id}`, w])) },
  heat: { unit: '°C', says: 'warm', of: (f: Figures): [string, number][] => f.heat.rungs.filter((r) => r.limit !== undefined).map((r): [string, number] => [r.title, hottestOf(r)]) },
} as const satisfies Record<string, { unit: UnitName; says: string; of(f: Figures): [string, number][] }>;

export interface Then {
  label: string;
  colour: string;
  figures: Figures;
}

/** The kept states that are shown, with their figures at the point in view. */
export function useThen(): Then[] {
  const kept = useStore((s) => s.kept);
  const figures = useStore((s) => s.answers.kept);
  return kept.flatMap((k, i) => (k.visible && figures[k.id] ? [{ label: k.label.split(' ')[0]!, colour: keptStyle(i).colour, figures: figures[k.id]! }] : []));
}

/** What is otherwise than in the kept states, row by row, the largest difference first; nothing where none is kept. */
export function Beside({ now, what }: { now: Figures; what: keyof typeof OF }) {
  const then = useThen();
  if (then.length === 0) return null;
  const { unit, says, of } = OF[what];
  const columns = [...then.map((t) => new Map(of(t.figures))), new Map(of(now))];
  const apart = (values: readonly number[]): number => Math.max(...values) - Math.min(...values);
  const none = unit === '°C' ? NaN : 0;
  const rows = [...new Set(columns.flatMap((c) => [...c.keys()]))].map((id) => ({ id, values: columns.map((c) => c.get(id) ?? none) })).map((r) => ({ ...r, apart: apart(r.values.filter(Number.isFinite)) })).toSorted((a, b) => b.apart - a.apart);
  const shown = rows.filter((r) => r.apart > Math.max(1e-9, LEAST * rows[0]!.apart)).slice(0, MOST);
  const names = then.map((t) => t.label).join(', ');
  if (shown.length === 0) return <p className="muted">Nothing is {says === 'lost' ? 'lost' : 'as warm'} otherwise than in {names}.</p>;
  const difference = (a: number, b: number): string => (Number.isFinite(a - b) ? `${a < b ? '−' : '+'}${unit === '°C' ? `${Math.abs(a - b).toFixed(1)} K` : print(Math.abs(a - b), unit)}` : '–');
  return (
    <>
      <h3>{says === 'lost' ? `What is lost otherwise than in ${names}` : `What is warm otherwise than in ${names}`}</h3>
      <table className={css.list} data-testid={`beside-${what}`}>
        <thead>
          <tr>
            <th />
            {then.length > 1 && then.map((t) => (
              <th key={t.label} style={{ textAlign: 'right', color: t.colour }}>
                {t.label}
              </th>
            ))}
            <th style={{ textAlign: 'right' }}>now</th>
            {then.length === 1 && <th style={{ textAlign: 'right' }}>more</th>}
          </tr>
        </thead>
        <tbody>
          {shown.map((r) => (
            <tr key={r.id}>
              <td>{r.id}</td>
              {(then.length > 1 ? r.values : r.values.slice(-1)).map((v, k) => (
                <td key={k} className={css.number}>
                  {Number.isFinite(v) ? print(v, unit, 3) : '–'}
                </td>
              ))}
              {then.length === 1 && <td className={css.number}>{difference(r.values[1]!, r.values[0]!)}</td>}
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
