'use client';
import { usePathname } from 'next/navigation';
import { useState } from 'react';
import { failsOf } from '../../core/converter/verdict';
import { describeProblem } from '../../core/problem';
import { printQuantity as print } from '../../core/quantity';
import { Mark } from '../frame/BriefLine';
import { DesignMenu } from '../frame/DesignMenu';
import frame from '../frame/frame.module.css';
import { KeyList } from '../frame/KeyList';
import { Messages } from '../frame/Messages';
import { UndoRedo } from '../frame/UndoRedo';
import stages from '../stages/stages.module.css';
import { circuitActions, useCircuit } from '../state/circuit';
import { CircuitFind } from './CircuitFind';
import { CircuitLoop } from './CircuitLoop';
import { CircuitLosses } from './CircuitLosses';
import { CircuitReeds } from './CircuitReeds';
import { CircuitWaveforms } from './CircuitWaveforms';
import { ElementPanel } from './ElementPanel';
import { ElementStrip } from './ElementStrip';
import { ElementTable } from './ElementTable';
import { KEYS, SHOWN, useCircuitKeys } from './shown';

const VIEWS = { 'power-stage': ElementTable, waveforms: CircuitWaveforms, loop: CircuitLoop, losses: CircuitLosses } as const;

/** The frame around a circuit with roles: the same stages as of a design, those that its roles can fill. */
export function CircuitFrame() {
  const { converter, past, future } = useCircuit((s) => s.open!);
  const view = useCircuit((s) => s.view);
  const problem = useCircuit((s) => s.problem);
  const fresh = useCircuit((s) => s.fresh);
  const path = usePathname();
  const stage = SHOWN.find((s) => path === `/${s.id}`)?.id;
  const [listed, list] = useState(false);
  useCircuitKeys(() => list(true));
  const View = stage && VIEWS[stage];
  const fails = view && failsOf(converter, view.figures);
  const { elements, modulators } = converter.circuit;
  return (
    <div className={frame.frame}>
      <header className={frame.brief}>
        <span className={frame.mark}>
          <Mark /> Jump Reed
        </span>
        <DesignMenu />
        <div className={frame.sentence} data-testid="circuit-line">
          A circuit with roles: <b>{elements.length}</b> elements, <b>{modulators.length}</b> {modulators.length === 1 ? 'modulator' : 'modulators'}
          {view && (
            <>
              , settled in a period of <b className="mono">{print(view.figures.period, 's')}</b>
            </>
          )}
        </div>
        <UndoRedo undo={circuitActions.undo} redo={circuitActions.redo} canUndo={past.length > 0} canRedo={future.length > 0} />
      </header>
      <nav className={frame.left} aria-label="Stages">
        <CircuitReeds />
      </nav>
      <main className={frame.centre}>
        {/* The power stage is the list itself. */}
        {stage !== 'power-stage' && <ElementStrip />}
        <section className={frame.stage} aria-label="Stage">
          {problem && (
            <div className={stages.problem} role="alert">
              <b>No settled cycle.</b> {describeProblem(problem)}. {view && 'What stands below is from before the last change.'}
            </div>
          )}
          {!View ? (
            <p className="muted">A circuit has its line and its loads in it, and no brief: there is nothing to show here. Power stage, Waveforms, Loop and Losses have it.</p>
          ) : view ? (
            <View view={view} fresh={fresh} />
          ) : problem ? null : (
            <p className="muted">Settling the cycle…</p>
          )}
        </section>
      </main>
      <aside className={frame.right} aria-label="Selected element">
        <ElementPanel />
      </aside>
      <footer className={frame.kept}>
        <span data-testid="circuit-verdict" className={`${fresh ? '' : 'stale'} ${fails && fails.length > 0 ? stages.fails : ''}`} style={{ whiteSpace: 'nowrap', overflow: 'hidden', textOverflow: 'ellipsis' }} title={fails?.join('; ')}>
          {fails === undefined ? '' : fails.length === 0 ? 'Holds: stable, and all that its roles want is met' : `Fails: ${fails.join('; ')}`}
        </span>
      </footer>
      <Messages />
      <CircuitFind help={() => list(true)} />
      <KeyList keys={KEYS} open={listed} onClose={() => list(false)} />
    </div>
  );
}
