'use client';
import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useEffect, useRef, useState } from 'react';
import { topologyOf } from '../../core/design';
import { printRange, printTyped } from '../../core/quantity';
import { compareStored, deleteStored, duplicateStored, intoFolder, listProjects, openStored } from '../state/session';
import { useStore } from '../state/store';
import { Ask, type Question } from './Ask';
import css from './frame.module.css';
import stages from '../stages/stages.module.css';

type Listed = Awaited<ReturnType<typeof listProjects>>[number];

const when = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' });

/** Every design of this browser, in folders: found by a word, opened, copied, laid over the one in work, moved, deleted. */
export function Projects({ close }: { close: () => void }) {
  const [all, setAll] = useState<Listed[]>();
  const [word, setWord] = useState('');
  const [ask, setAsk] = useState<Question>();
  const open = useStore((s) => s.id);
  const list = (): Promise<void> => listProjects().then(setAll);
  useEffect(() => void list(), []);
  const finder = useRef<HTMLInputElement>(null);
  // What was clicked may be gone: keys go on from the top.
  const then = (work: Promise<unknown>): void => void work.then(list).then(() => finder.current?.focus());
  const found = (all ?? []).filter((d) => `${d.name} ${d.folder} ${topologyOf(d.design)?.title ?? ''}`.toLowerCase().includes(word.trim().toLowerCase()));
  const folders = [...new Set(found.map((d) => d.folder))].toSorted((a, b) => (a === '' ? 1 : b === '' ? -1 : a.localeCompare(b)));
  const known = [...new Set((all ?? []).map((d) => d.folder).filter((f) => f !== ''))];
  return (
    <Dialog open onClose={close} fullWidth maxWidth="md" aria-labelledby="projects">
      <DialogTitle id="projects">Designs in this browser</DialogTitle>
      <DialogContent data-testid="projects" sx={{ pt: '6px !important', minHeight: 300 }}>
        <input ref={finder} className={stages.search} style={{ width: '100%', marginBottom: 8 }} placeholder="by name, folder or topology" aria-label="Find a design" value={word} autoFocus onChange={(e) => setWord(e.target.value)} />
        {all && found.length === 0 && <p className="muted">{all.length === 0 ? 'None yet.' : 'None of that name.'}</p>}
        {folders.map((folder) => (
          <section key={folder} aria-label={folder === '' ? 'in no folder' : folder}>
            <h3 style={{ margin: '10px 0 2px' }}>{folder === '' ? (folders.length > 1 ? 'in no folder' : '') : folder}</h3>
            <table className={stages.list} style={{ tableLayout: 'fixed' }}>
              <colgroup>
                <col />
                <col style={{ width: 210 }} />
                <col style={{ width: 112 }} />
                <col style={{ width: 246 }} />
              </colgroup>
              <tbody>
                {found.filter((d) => d.folder === folder).map((d) => (
                  <tr key={d.id} aria-current={d.id === open ? true : undefined}>
                    <td>
                      <button type="button" className={css.link} style={{ fontWeight: d.id === open ? 650 : undefined, textAlign: 'left' }} onClick={() => (close(), void openStored(d.id))}>
                        {d.name}
                      </button>
                    </td>
                    <td className="mono muted" style={{ fontSize: 11.5 }}>
                      {printRange(d.design.brief.line, 'V', 3)} → {printTyped(d.design.brief.output.voltage, 'V', 3)}, {printTyped(d.design.brief.load.max, 'A', 3)}
                    </td>
                    <td className="muted" style={{ fontSize: 11.5 }}>{when.format(d.updated)}</td>
                    <td style={{ textAlign: 'right', whiteSpace: 'nowrap' }}>
                      {d.id !== open && (
                        <>
                          <button type="button" className={css.link} title="Lay it over the design in work" aria-label={`Compare with ${d.name}`} onClick={() => (close(), void compareStored(d.id))}>
                            compare
                          </button>{' '}
                        </>
                      )}
                      <button type="button" className={css.link} aria-label={`Copy ${d.name}`} onClick={() => then(duplicateStored(d.id))}>
                        copy
                      </button>{' '}
                      <button type="button" className={css.link} aria-label={`Move ${d.name} to a folder`} onClick={() => setAsk({ title: `Folder of "${d.name}"${known.length > 0 ? ` (there are ${known.join(', ')})` : ''}; none where it is empty`, text: d.folder, act: 'Move', done: (typed) => then(intoFolder(d.id, typed ?? '')) })}>
                        folder
                      </button>{' '}
                      <button type="button" className={css.link} aria-label={`Delete ${d.name}`} onClick={() => setAsk({ title: `Delete "${d.name}" from this browser? Files saved from it stay.`, act: 'Delete', done: () => then(deleteStored(d.id)) })}>
                        delete
                      </button>
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </section>
        ))}
        {ask && <Ask question={ask} onClose={() => setAsk(undefined)} />}
      </DialogContent>
    </Dialog>
  );
}
