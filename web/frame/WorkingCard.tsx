import { printQuantity as print } from '../../core/quantity';
import type { Working } from '../../core/working';
import css from './working.module.css';

/** A figure's working: formula, numbers put in, result, source, and what it leaves out. */
export function WorkingCard({ working: w }: { working: Working }) {
  return (
    <div className={css.card}>
      <div className={css.formula}>{w.formula}</div>
      <div className={css.numbers}>{w.numbers}</div>
      <div className={css.result}>= {print(w.value, w.unit, 4)}</div>
      <div className={css.source}>{w.source}</div>
      {w.leavesOut && <div className={css.source}>Leaves out: {w.leavesOut}.</div>}
    </div>
  );
}
