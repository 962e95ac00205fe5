import frame from './frame.module.css';

/** Back and forward in the history of what is edited; each only where there is something. */
export function UndoRedo({ undo, redo, canUndo, canRedo }: { undo: () => void; redo: () => void; canUndo: boolean; canRedo: boolean }) {
  return (
    <>
      <button type="button" className={frame.chip} aria-label="Undo" title="Undo (Ctrl Z)" disabled={!canUndo} onClick={undo}>
        ↶
      </button>
      <button type="button" className={frame.chip} aria-label="Redo" title="Redo (Ctrl Shift Z)" disabled={!canRedo} onClick={redo}>
        ↷
      </button>
    </>
  );
}
