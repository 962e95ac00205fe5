'use client';
import { useEffect } from 'react';
import Alert from '@mui/material/Alert';
import Snackbar from '@mui/material/Snackbar';
import { fieldAt } from '../../core/design';
import { takeTopologyFor } from '../state/live';
import { actions, useStore } from '../state/store';
import css from './frame.module.css';

/** How many of those that can serve are named. */
const NAMED = 4;

/** The last refusal or notice, in words, at the bottom; Escape puts it away. */
export function Messages() {
  const refusal = useStore((s) => s.refusal);
  const offer = useStore((s) => s.offer);
  const notice = useStore((s) => s.notice);
  useEffect(() => {
    if (!refusal) return undefined;
    const onKeyDown = (e: KeyboardEvent): void => {
      if (e.key === 'Escape') actions.dismiss();
    };
    window.addEventListener('keydown', onKeyDown);
    return () => window.removeEventListener('keydown', onKeyDown);
  }, [refusal]);
  if (refusal)
    return (
      <Snackbar open anchorOrigin={{ vertical: 'bottom', horizontal: 'center' }}>
        <Alert severity="error" variant="outlined" onClose={actions.dismiss} sx={{ bgcolor: 'background.paper', maxWidth: 720 }}>
          <b>{fieldAt(refusal.where)?.title ?? refusal.where}</b>: {refusal.message}; {refusal.remedy}.
          {offer && offer.able.length > 0 && (
            <div className={css.offers}>
              <span>Others can:</span>
              {offer.able.slice(0, NAMED).map(({ id, title }) => (
                <button key={id} type="button" className={css.chip} onClick={() => void takeTopologyFor(offer.changes, id)}>
                  Take {title}
                </button>
              ))}
              {offer.able.length > NAMED && <span>and {offer.able.length - NAMED} more</span>}
            </div>
          )}
        </Alert>
      </Snackbar>
    );
  if (notice)
    return (
      <Snackbar open autoHideDuration={4000} onClose={actions.dismiss} anchorOrigin={{ vertical: 'bottom', horizontal: 'center' }}>
        <Alert severity="success" variant="outlined" onClose={actions.dismiss} sx={{ bgcolor: 'background.paper' }}>
          {notice}
        </Alert>
      </Snackbar>
    );
  return null;
}
