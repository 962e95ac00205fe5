'use client';
import { QuantityField, RangeField } from './QuantityField';
import { loadInWords } from '../../core/surroundings/loads';
import { DesignMenu } from './DesignMenu';
import { FindButton, useOverlay } from './Find';
import { newDesignActions, useNewDesign } from '../state/newDesign';
import { actions, useStore } from '../state/store';
import { UndoRedo } from './UndoRedo';
import css from './frame.module.css';

/** Three reeds, one of them leaning: the mark of the house. */
export const Mark = () => (
  <svg width="18" height="20" viewBox="0 0 18 20" aria-hidden="true">
    <path d="M2 1V19M8 1V19" stroke="var(--spruce)" strokeWidth="2.6" strokeLinecap="round" />
    <path d="M13 19C13 12 14 6 16.5 1.5" stroke="var(--rust)" strokeWidth="2.6" strokeLinecap="round" fill="none" />
  </svg>
);

/** Opens the sheet of a new design, and closes it again. */
function NewButton() {
  const open = useNewDesign((s) => s.open);
  return (
    <button type="button" className={css.chip} aria-pressed={open} title="A design from a brief alone" onClick={open ? newDesignActions.close : newDesignActions.open}>
      New design
    </button>
  );
}

/** The head while a new design is asked for: its own sentence stands on the sheet. */
export const NewHead = () => (
  <>
    <span className={css.mark}>
      <Mark /> Jump Reed
    </span>
    <NewButton />
    <DesignMenu />
    <span className={css.spacer} />
    <FindButton />
  </>
);

/** The brief as one sentence; each dotted figure is edited where it stands. */
export function BriefLine() {
  const canUndo = useStore((s) => s.past.length > 0);
  const onMains = useStore((s) => s.design.brief.line.mains !== undefined);
  const words = useStore((s) => loadInWords(s.design.brief));
  const canRedo = useStore((s) => s.future.length > 0);
  return (
    <>
      <span className={css.mark}>
        <Mark /> Jump Reed
      </span>
      <NewButton />
      <DesignMenu />
      <div className={css.sentence} data-testid="brief-line">
        From <RangeField path="brief.line" label="line range" />
        {onMains && (
          <>
            {' '}
            ac, <QuantityField path="brief.line.mains" label="mains frequency" />,
          </>
        )}{' '}
        make <QuantityField path="brief.output.voltage" /> at{' '}
        <RangeField path="brief.load" label="load range" />
        {words === '' ? '' : ` ${words}`}, switching at <QuantityField path="brief.frequency" />, ripple under{' '}
        <QuantityField path="requirements.ripple.limit" label="ripple limit" />, in air up to <QuantityField path="brief.air.max" />
      </div>
      <UndoRedo undo={actions.undo} redo={actions.redo} canUndo={canUndo} canRedo={canRedo} />
      <FindButton />
      <button type="button" className={css.chip} aria-label="Help" title="Help, keys and words (?)" onClick={() => useOverlay.setState({ keys: true })}>
        ?
      </button>
      <button type="button" className={css.primary} title="Keep this state beside what comes (K)" onClick={actions.keep}>
        Keep <span style={{ opacity: 0.7, fontSize: 11 }}>K</span>
      </button>
    </>
  );
}
