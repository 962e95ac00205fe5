'use client';
import { windingWires, type Design } from '../../core/design';
import { type Figures } from '../../core/evaluation';
import type { Wire } from '../../core/parts/goods';
import { printQuantity as print } from '../../core/quantity';
import { useGoods } from '../state/shelf';
import css from './frame.module.css';

/** What a turn of each winding is wound with: as the part says, else strands of the shelf no thicker than two skin depths. */
export function WindingWires({ id, design, figures }: { id: string; design: Design; figures: Figures }) {
  const goods = useGoods();
  const found = windingWires(design, figures.sizing, id, goods.filter((g): g is Wire => g.kind === 'wire'));
  if (!found) return null;
  return (
    <>
      <h3>A turn is wound with</h3>
      {found.turns.map(({ title, area, wound }) => (
        <div className={css.row} key={title} title={`${print(area, 'm²', 2)} of copper a turn; a field goes ${print(found.depth, 'm', 2)} deep`}>
          <span>{title}</span>
          <span className="mono">{wound ? `${wound.count} × ${print(wound.diameter, 'm', 3)}` : 'no wire is so thin'}</span>
        </div>
      ))}
    </>
  );
}
