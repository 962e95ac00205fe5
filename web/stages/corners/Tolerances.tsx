'use client';
import { useState } from 'react';
import type { Tolerance } from '../../../core/corners/spread';
import { topologyOf } from '../../../core/design';
import { parseQuantity, printTyped } from '../../../core/quantity';
import frame from '../../frame/frame.module.css';
import { actions, useStore } from '../../state/store';
import css from '../stages.module.css';

const SHAPES: { id: Tolerance['shape']; title: string }[] = [
  { id: 'uniform', title: 'uniform' },
  { id: 'normal', title: 'normal, 3σ' },
  { id: 'truncated', title: 'normal, cut at σ' },
];

/** What every value may be off by: the usual one until another is stated; switches that are off together; age. */
export function Tolerances({ tolerances }: { tolerances: readonly Tolerance[] }) {
  const design = useStore((s) => s.design);
  const [open, setOpen] = useState(false);
  const stated = { values: {}, matched: [], aged: false, ...design.tolerances };
  const put = (t: Tolerance, change: Partial<Pick<Tolerance, 'share' | 'shape'>>): void =>
    void actions.edit({ tolerances: { ...stated, values: { ...stated.values, [t.slot]: { ...(stated.values as Record<string, object>)[t.slot], [t.key]: { share: t.share, shape: t.shape, ...change } } } } });
  // Parts of one kind that could come of one lot.
  const alike = topologyOf(design)!.slots.filter((s) => !s.core && s.kind === 'switch').map((s) => s.id);
  const paired = stated.matched.some((g) => alike.every((id) => g.includes(id)));
  return (
    <div style={{ margin: '2px 0 8px' }}>
      <button type="button" className={frame.link} aria-expanded={open} onClick={() => setOpen(!open)}>
        {open ? 'close the tolerances' : `${tolerances.length} tolerances`}
      </button>{' '}
      {alike.length > 1 && (
        <label className="muted">
          <input type="checkbox" checked={paired} onChange={(e) => actions.edit({ tolerances: { ...stated, matched: e.target.checked ? [...stated.matched, alike] : stated.matched.filter((g) => !alike.every((id) => g.includes(id))) } })} /> {alike.join(' and ')} of one lot
        </label>
      )}{' '}
      <label className="muted">
        <input type="checkbox" checked={stated.aged} onChange={(e) => actions.edit({ tolerances: { ...stated, aged: e.target.checked } })} /> wet capacitors at the end of their life
      </label>
      {open && (
        <table className={css.list} data-testid="tolerances">
          <tbody>
            {tolerances.map((t) => (
              <tr key={t.path}>
                <td>{t.title}</td>
                <td className={css.number}>
                  ±{' '}
                  <input
                    key={t.share}
                    className={css.search}
                    style={{ width: 64, textAlign: 'right' }}
                    aria-label={`${t.title}, tolerance`}
                    defaultValue={printTyped(t.share, '%', 3)}
                    onBlur={(e) => {
                      const read = parseQuantity(e.target.value, '%', t.path);
                      if (read.ok && read.value >= 0 && read.value < 1) {
                        if (read.value !== t.share) put(t, { share: read.value });
                      } else e.target.value = printTyped(t.share, '%', 3);
                    }}
                  />
                </td>
                <td>
                  <select className={frame.select} aria-label={`${t.title}, shape`} value={t.shape} onChange={(e) => put(t, { shape: e.target.value as Tolerance['shape'] })}>
                    {SHAPES.map((x) => (
                      <option key={x.id} value={x.id}>
                        {x.title}
                      </option>
                    ))}
                  </select>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}
