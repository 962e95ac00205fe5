'use client';
import { forgetAside, saveAside, saveFile, takeOver } from '../state/session';
import { useStore } from '../state/store';
import css from './frame.module.css';

/** What stands until it is done with: nothing is stored, another tab has the design, a record could not be read. */
export function Banners() {
  const { unstored, following, aside } = useStore();
  return (
    <>
      {unstored !== undefined && (
        <div className={css.banner} role="alert">
          <b>Not stored:</b> {unstored}. What is on screen is lost with this tab unless it is saved.
          <button type="button" className={css.chip} onClick={saveFile}>
            Save as a file
          </button>
        </div>
      )}
      {following && (
        <div className={css.banner} role="status">
          <b>Open in another tab.</b> It is followed here as it changes there.
          <button type="button" className={css.chip} onClick={takeOver}>
            Take over here
          </button>
        </div>
      )}
      {aside.map((r) => (
        <div key={r.id} className={css.banner} role="alert">
          <span>
            <b>&quot;{r.name}&quot; could not be read</b> and was set aside: {r.why}.
          </span>
          <button type="button" className={css.chip} onClick={() => saveAside(r.id)}>
            Save what is there
          </button>
          <button type="button" className={css.chip} onClick={() => void forgetAside(r.id)}>
            Forget it
          </button>
        </div>
      ))}
    </>
  );
}
