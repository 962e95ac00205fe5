'use client';
import { useState } from 'react';
import { printQuantity as print } from '../../core/quantity';
import { Mark } from '../frame/BriefLine';
import { DesignMenu } from '../frame/DesignMenu';
import { EditedDocument } from '../frame/edited';
import { Find, type Entry } from '../frame/Find';
import frame from '../frame/frame.module.css';
import { KeyList } from '../frame/KeyList';
import { Messages } from '../frame/Messages';
import { QuantityField } from '../frame/QuantityField';
import { Reed } from '../frame/Reed';
import { UndoRedo } from '../frame/UndoRedo';
import { useKeys } from '../frame/useKeys';
import stages from '../stages/stages.module.css';
import { noFigures, plantActions, thePlant, usePlant } from '../state/plant';
import { deleteCircuit, saveFile } from '../state/session';
import { Measurements } from './Measurements';
import { PlantLoop } from './PlantLoop';

const KEYS: readonly (readonly [string, string])[] = [
  ['Ctrl Z', 'undo'],
  ['Ctrl Shift Z', 'redo'],
  ['Ctrl K', 'find an action'],
  ['Ctrl S', 'save the plant as a file'],
  ['arrows on a zero or pole', 'move it; with Shift, in larger steps'],
  ['?', 'this list'],
];

/** The frame around a measured plant: its loop, and what was measured. There is no power stage, and so no other stage. */
export function PlantFrame() {
  const { past, future } = usePlant((s) => s.open!);
  const last = usePlant((s) => s.last);
  const problem = usePlant(noFigures);
  const [listed, list] = useState(false);
  const [drawer, setDrawer] = useState(false);
  useKeys({ undo: plantActions.undo, redo: plantActions.redo, help: () => list(true) });
  const entries: Entry[] = [
    { group: 'Actions', label: 'Undo', act: plantActions.undo },
    { group: 'Actions', label: 'Redo', act: plantActions.redo },
    { group: 'Actions', label: 'Save as a file', act: saveFile },
    { group: 'Actions', label: 'Delete this plant', act: deleteCircuit },
    { group: 'Actions', label: 'Keys', act: () => list(true) },
  ];
  const margins = last?.loops.find((l) => l.title === last.on)?.margins;
  return (
    <EditedDocument value={thePlant}>
      <div className={frame.frame}>
        <header className={frame.brief}>
          <span className={frame.mark}>
            <Mark /> Jump Reed
          </span>
          <DesignMenu />
          <div className={frame.sentence} data-testid="plant-line">
            A loop on a measured plant, switching at <QuantityField path="frequency" />, holding <QuantityField path="output" />
          </div>
          <UndoRedo undo={plantActions.undo} redo={plantActions.redo} canUndo={past.length > 0} canRedo={future.length > 0} />
        </header>
        <nav className={frame.left} aria-label="Stages">
          <ul className={frame.reeds}>
            <li>
              <span className={frame.strip} aria-current="page">
                <Reed room={last && last.least.phaseMargin > 0 ? undefined : -1} />
                <span>
                  <div className={frame.stripTitle}>Loop</div>
                  <div className={`${frame.stripFigure} ${problem ? 'stale' : ''}`} data-testid="reed-loop">
                    {margins && Number.isFinite(margins.crossover) ? `${print(margins.crossover, 'Hz')} · ${Math.round(margins.phaseMargin)}°` : 'does not cross'}
                  </div>
                </span>
              </span>
            </li>
          </ul>
        </nav>
        <main className={frame.centre}>
          <section className={frame.stage} aria-label="Stage">
            {problem && (
              <div className={stages.problem} role="alert">
                <b>No loop can be placed.</b> {problem}. {last && 'What stands below is from before the last change.'}
              </div>
            )}
            {last && <PlantLoop figures={last} fresh={problem === undefined} />}
          </section>
        </main>
        <aside className={frame.right} aria-label="Measured" data-drawn={drawer}>
          <Measurements />
        </aside>
        <button type="button" className={`${frame.chip} ${frame.drawer}`} aria-expanded={drawer} onClick={() => setDrawer(!drawer)}>
          {drawer ? 'close' : 'measured'}
        </button>
        <footer className={frame.kept}>
          <span className="muted">What was measured is all there is: no waveforms, losses or heat without a power stage.</span>
        </footer>
        <Messages />
        <Find entries={entries} what="an action" />
        <KeyList keys={KEYS} open={listed} onClose={() => list(false)} />
      </div>
    </EditedDocument>
  );
}
