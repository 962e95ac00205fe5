'use client';
import { useState } from 'react';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';

/** A question before something is done; with `text`, one that wants words. */
export interface Question {
  title: string;
  text?: string;
  /** What the button does, in a word */
  act: string;
  done: (typed?: string) => void;
}

export function Ask({ question, onClose }: { question: Question; onClose: () => void }) {
  const [typed, setTyped] = useState(question.text ?? '');
  const submit = (): void => {
    onClose();
    question.done(typed);
  };
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="xs">
      <form
        onSubmit={(e) => {
          e.preventDefault();
          submit();
        }}
      >
        <DialogTitle>{question.title}</DialogTitle>
        {question.text !== undefined && (
          <DialogContent>
            <TextField autoFocus fullWidth size="small" value={typed} onChange={(e) => setTyped(e.target.value)} slotProps={{ htmlInput: { 'aria-label': question.title, maxLength: 80 } }} />
          </DialogContent>
        )}
        <DialogActions>
          <Button onClick={onClose}>Leave it</Button>
          <Button type="submit" variant="contained" autoFocus={question.text === undefined}>
            {question.act}
          </Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
