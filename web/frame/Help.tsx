'use client';
import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { usePathname } from 'next/navigation';
import { useState } from 'react';
import { STAGES } from '../stages/list';
import stages from '../stages/stages.module.css';
import { GLOSSARY, STAGE_HELP } from './guide';
import { KeyTable } from './KeyList';
import { tourActions } from './Tour';
import css from './frame.module.css';

const PAGES = ['This stage', 'Keys', 'Words'] as const;

/** Help where one stands: what the stage is for, the keys, the words. */
export function Help({ keys, open, onClose }: { keys: readonly (readonly [key: string, what: string])[]; open: boolean; onClose: () => void }) {
  const [page, setPage] = useState<(typeof PAGES)[number]>('This stage');
  const [word, setWord] = useState('');
  const path = usePathname();
  const here = STAGES.find((s) => path === `/${s.id}`);
  const found = GLOSSARY.filter(([w, meaning]) => `${w} ${meaning}`.toLowerCase().includes(word.trim().toLowerCase()));
  return (
    <Dialog open={open} onClose={onClose} fullWidth maxWidth="sm" aria-labelledby="help">
      <DialogTitle id="help">Help</DialogTitle>
      <DialogContent sx={{ minHeight: 360 }}>
        <div className={stages.tabs} role="tablist" style={{ marginBottom: 10 }}>
          {PAGES.map((p) => (
            <button key={p} type="button" role="tab" className={css.chip} aria-selected={page === p} onClick={() => setPage(p)}>
              {p}
            </button>
          ))}
        </div>
        {page === 'This stage' && (
          <p style={{ margin: '0 0 8px' }}>
            <button type="button" className={css.link} onClick={() => (onClose(), tourActions.begin())}>
              Take a tour of two minutes
            </button>
          </p>
        )}
        {page === 'This stage' &&
          STAGES.map((s) => (
            <p key={s.id} style={{ margin: '0 0 8px', opacity: !here || here.id === s.id ? 1 : 0.75 }}>
              <b>{s.title}.</b> <i>{STAGE_HELP[s.id].asks}</i> {STAGE_HELP[s.id].does}
            </p>
          ))}
        {page === 'Keys' && <KeyTable keys={keys} />}
        {page === 'Words' && (
          <>
            <input className={stages.search} style={{ width: '100%', marginBottom: 8 }} placeholder="a word" aria-label="Find a word" value={word} onChange={(e) => setWord(e.target.value)} />
            <dl style={{ margin: 0 }}>
              {found.map(([w, meaning]) => (
                <div key={w} style={{ marginBottom: 4 }}>
                  <dt style={{ display: 'inline', fontWeight: 600 }}>{w}</dt>: <dd style={{ display: 'inline', margin: 0 }}>{meaning}</dd>
                </div>
              ))}
            </dl>
            {found.length === 0 && <p className="muted">Not among them.</p>}
          </>
        )}
      </DialogContent>
    </Dialog>
  );
}
