'use client';
import Alert from '@mui/material/Alert';
import Snackbar from '@mui/material/Snackbar';
import { actions, useStore } from '../state/store';

/** The last refusal or notice, in words, at the bottom. */
export function Messages() {
  const refusal = useStore((s) => s.refusal);
  const notice = useStore((s) => s.notice);
  if (refusal)
    return (
      <Snackbar open anchorOrigin={{ vertical: 'bottom', horizontal: 'center' }}>
        <Alert severity="error" variant="outlined" onClose={actions.dismiss} sx={{ bgcolor: 'background.paper', maxWidth: 720 }}>
          <b>{refusal.where}</b>: {refusal.message}; {refusal.remedy}.
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
