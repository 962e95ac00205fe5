'use client';
import { windingWires, type Design } from '../../core/design';
import { type Figures } from '../../core/evaluation';
import type { Wire } from '../../core/parts/goods';
import { printQuantity as print } from '../../core/quantity';
import { GOODS } from '../../shelf';
import css from './frame.module.css';

const WIRES = GOODS.filter((g): g is Wire => g.kind === 'wire');

/** What a turn of each winding is wound with: strands of the shelf no thicker than two skin depths. */
export function WindingWires({ id, design, figures }: { id: string; design: Design; figures: Figures }) {
  const found = windingWires(design, figures.sizing, id, WIRES);
  if (!found) return null;
  return (
    <>
      <h3>A turn is wound with</h3>
      {found.turns.map(({ title, area, wound }) => (
        <div className={css.row} key={title} title={`${(area * 1e6).toPrecision(2)} mm² of copper a turn; a field goes ${print(found.depth, 'm', 2)} deep`}>
          <span>{title}</span>
          <span className="mono">{wound ? `${wound.parallel} × ${print(wound.wire.diameter, 'm', 3)}` : 'no wire is so thin'}</span>
        </div>
      ))}
    </>
  );
}
