'use client';
import { REQUIREMENTS } from '../../core/corners/requirements';
import { valueAt } from '../../core/design/edit';
import { differences } from '../../core/design/difference';
import type { Design } from '../../core/design';
import type { Figures } from '../../core/evaluation';
import { printQuantity as print, type UnitName } from '../../core/quantity';
import { actions, useStore } from '../state/store';
import css from './frame.module.css';

/** The change that takes one choice of another design: of a part that is another one, all of it. */
function taken(from: Design, path: string): Record<string, unknown> {
  const whole = /^(parts\.[^.]+)\.part$/.exec(path)?.[1] ?? path;
  return { [whole]: valueAt(from, whole) };
}

interface Column {
  name: string;
  design: Design;
  figures: Figures | undefined;
}

/** Figures besides those that are required */
const FURTHER: readonly { title: string; unit: UnitName; direction: 'at most' | 'at least' | 'neither'; value(f: Figures): number; applies?: undefined }[] = [
  { title: 'total loss', unit: 'W', direction: 'at most', value: (f) => f.losses.total },
  { title: 'crossover', unit: 'Hz', direction: 'neither', value: (f) => f.loop?.crossover ?? NaN },
  { title: 'duty', unit: '%', direction: 'neither', value: (f) => f.cycle.duty },
  { title: 'ripple share of the inductor', unit: '%', direction: 'neither', value: (f) => f.cycle.rippleShare },
];

/** What the kept states laid over the plots and the one in work differ in, side by side: figures at the point in view, then what was set. */
export function KeptTable() {
  const design = useStore((s) => s.design);
  const kept = useStore((s) => s.kept);
  const { figures, fresh, kept: keptFigures } = useStore((s) => s.answers);
  const columns: Column[] = [...kept.filter((k) => k.visible).map((k) => ({ name: k.label, design: k.design, figures: keptFigures[k.id] })), { name: 'now', design, figures }];
  // What it is run through is looked at in Waveforms, and makes no other converter.
  const set = differences(columns.map((c) => c.design)).filter((d) => !d.path.startsWith('schedules.'));
  const rows = [...REQUIREMENTS, ...FURTHER].flatMap((r) => {
    const values = columns.map((c) => (c.figures && (r.applies?.(c.figures, c.design) ?? true) ? r.value(c.figures, c.design) : NaN));
    if (!values.some(Number.isFinite)) return [];
    const better = (a: number, b: number): boolean => (r.direction === 'at most' ? a < b : a > b);
    const best = r.direction === 'neither' ? NaN : values.reduce((a, b) => (Number.isNaN(a) || better(b, a) ? b : a));
    const some = values.find(Number.isFinite)!;
    const alike = values.every((v) => Math.abs(v - some) <= 5e-4 * Math.abs(some));
    return [{ title: r.title, values, best, alike, unit: r.unit }];
  });
  const { point } = useStore.getState();
  return (
    <div className={css.keptTable} data-testid="kept-table">
      <table>
        <thead>
          <tr>
            <th>
              at {print(point.line, 'V')}, {print(point.load, 'A')}
            </th>
            {columns.map((c) => (
              <th key={c.name} className={css.keptFigure}>
                {c.name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody className={fresh ? '' : 'stale'}>
          {rows.map(({ title, values, best, alike, unit }) => (
            <tr key={title}>
              <td>{title}</td>
              {values.map((v, k) => (
                <td key={columns[k]!.name} className={css.keptFigure} style={{ fontWeight: !alike && v === best ? 700 : undefined }} title={!alike && v === best ? 'the best of them' : undefined}>
                  {Number.isNaN(v) ? '–' : print(v, unit)}
                  {!alike && v === best ? ' ✓' : ''}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
        <tbody>
          <tr>
            <th colSpan={columns.length + 1}>{set.length === 0 ? 'nothing is set differently' : 'set differently'}</th>
          </tr>
          {set.map((d) => (
            <tr key={d.path}>
              <td>{d.title}</td>
              {d.values.map((v, k) => (
                <td key={columns[k]!.name} className={css.keptFigure}>
                  {k === columns.length - 1 || v === d.values.at(-1) ? (
                    v
                  ) : (
                    <button type="button" className={css.link} title={`Take ${d.title} from ${columns[k]!.name} into the design in work`} aria-label={`Take ${d.title} ${v} from ${columns[k]!.name}`} onClick={() => void actions.edit(taken(columns[k]!.design, d.path))}>
                      {v}
                    </button>
                  )}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
