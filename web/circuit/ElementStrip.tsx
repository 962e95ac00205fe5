'use client';
import { circuitActions, useCircuit } from '../state/circuit';
import css from './circuit.module.css';
import { kindOf, loopsAt, placeOf, valueIn } from './words';

/** The circuit as a row of its elements, in the order of its file; where a loop can be broken is marked. */
export function ElementStrip() {
  const { converter } = useCircuit((s) => s.open!);
  const selected = useCircuit((s) => s.selected);
  return (
    <div className={css.elements} role="group" aria-label="Elements" data-testid="elements">
      {converter.circuit.elements.map((e) => {
        const loops = loopsAt(converter, e.id);
        const title = `${kindOf(e)}, ${placeOf(e)}${loops.length > 0 ? `: loop “${loops.join('”, “')}” can be broken here` : ''}`;
        return (
          <button key={e.id} type="button" className={css.element} data-element={e.id} data-loop={loops.length > 0} aria-pressed={selected === e.id} title={title} onClick={() => circuitActions.select(e.id)}>
            <b>{e.id}</b>
            <span className="mono">{valueIn(e)}</span>
          </button>
        );
      })}
    </div>
  );
}
