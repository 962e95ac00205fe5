'use client';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useRef, useState } from 'react';
import { readMeasured } from '../../../core/measured/read';
import { carriedTrace } from '../../../core/measured/response';
import { KINDS, MOST_MEASURED, ROLES, type Kind, type MeasuredFile, type Role, type Trace } from '../../../core/measured/types';
import { inWords, type Problem } from '../../../core/problem';
import { printQuantity as print } from '../../../core/quantity';
import type { OperatingPoint } from '../../../core/topology';
import { COLUMNS, FileInput } from '../../frame/FileInput';
import frame from '../../frame/frame.module.css';
import { actions, useStore } from '../../state/store';
import css from '../stages.module.css';

/** Bytes of a file at most: more is refused before it is read */
const LARGEST = 50_000_000;

/** A text that was chosen as a measured response. */
export interface ChosenFile {
  name: string;
  text: string;
}

/** Read a file that may be a measured response; what is plainly none is refused, and nothing comes of it. */
export async function openMeasured(f: File): Promise<ChosenFile | undefined> {
  if (f.size > LARGEST) {
    actions.refuse({ code: 'size', where: f.name, message: `${Math.round(f.size / 1e6)} MB is more than is read here`, remedy: 'keep every tenth row: a few hundred frequencies tell all there is' });
    return undefined;
  }
  const text = await f.text();
  const read = readMeasured(text);
  if (!read.ok && read.problem.code !== 'columns' && read.problem.code !== 'value') {
    actions.refuse({ ...read.problem, where: [f.name, read.problem.where].filter((x) => x !== 'file').join(', ') });
    return undefined;
  }
  return { name: f.name.replace(/\.\w+$/, ''), text };
}

/** A link that lays a measured response over the design's. */
export function LayOver() {
  const measured = useStore((s) => s.design.measured) ?? [];
  const point = useStore((s) => s.point);
  const take = (traces: readonly Trace[], name: string, of: Kind): Problem | undefined => {
    const taken = traces.map((t) => carriedTrace({ ...t, title: traces.length > 1 ? `${name}, ${t.title}` : name }, of, { line: point.line, load: point.load }));
    const titles = new Set(taken.map((t) => t.title));
    return actions.edit({ measured: [...measured.filter((m) => !titles.has(m.title)), ...taken].slice(-MOST_MEASURED) });
  };
  return <ChooseMeasured title="A response measured on the bench, laid over the computed one" act="Lay it over" take={take} at={point} />;
}

/** A link that asks for a measured file, shows its columns as they were recognised, and hands on its traces. @param at the point it was measured at, where it may be something else than a plant */
export function ChooseMeasured({ title, act, label = 'lay over a file…', take, at }: { title: string; act: string; label?: string; take: (traces: readonly Trace[], name: string, of: Kind) => Problem | undefined; at?: OperatingPoint }) {
  const file = useRef<HTMLInputElement>(null);
  const [chosen, setChosen] = useState<ChosenFile>();
  return (
    <>
      <button type="button" className={frame.link} style={{ whiteSpace: 'nowrap', fontSize: 12 }} title={title} onClick={() => file.current?.click()}>
        {label}
      </button>
      <FileInput ref={file} title="Measured file" accept={COLUMNS} open={(f) => void openMeasured(f).then(setChosen)} />
      {chosen && <Recognised {...chosen} act={act} take={take} at={at} close={() => setChosen(undefined)} />}
    </>
  );
}

/** A file's columns as they were recognised, corrected where they are not, and its traces taken. */
export function Recognised({ name, text, act, take: taken, at, close }: ChosenFile & { act: string; take: (traces: readonly Trace[], name: string, of: Kind) => Problem | undefined; at?: OperatingPoint; close: () => void }) {
  const [roles, setRoles] = useState<Role[]>();
  const [of, setOf] = useState<Kind>('plant');
  // Of a file that its titles tell nothing of, the columns stand all the same.
  const [first] = useState(() => readMeasured(text));
  const found = roles ? readMeasured(text, roles) : first;
  const [columns, setColumns] = useState<MeasuredFile['columns']>(first.ok ? first.value.columns : []);
  const change = (k: number, role: Role): void => {
    const next = columns.map((c, i) => (i === k ? { ...c, role } : c));
    setColumns(next);
    setRoles(next.map((c) => c.role));
  };
  const take = (): void => {
    if (found.ok && !taken(found.value.traces, name, of)) close();
  };
  return (
    <Dialog open onClose={close} fullWidth maxWidth="sm">
      <DialogTitle>{name}</DialogTitle>
      <DialogContent>
        {columns.length > 0 && (
          <table className={css.list} data-testid="columns">
            <thead>
              <tr>
                <th>column</th>
                <th>is</th>
              </tr>
            </thead>
            <tbody>
              {columns.map((c, k) => (
                <tr key={k}>
                  <td>{c.title}</td>
                  <td>
                    <select className={frame.select} aria-label={`what ${c.title} is`} value={c.role} onChange={(e) => change(k, e.target.value as Role)}>
                      {ROLES.map((r) => (
                        <option key={r} value={r}>
                          {r}
                        </option>
                      ))}
                    </select>
                    {c.scale !== 1 ? ` × ${c.scale.toLocaleString('en')}` : ''}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        {at ? (
        <p>
          It was measured of{' '}
          <select className={frame.select} aria-label="what was measured" style={{ width: 'auto', maxWidth: 'none' }} value={of} onChange={(e) => setOf(e.target.value as Kind)}>
            {KINDS.map((k) => (
              <option key={k.id} value={k.id}>
                {k.title}
              </option>
            ))}
          </select>
          , at the point in view: {print(at.line, 'V')}, {print(at.load, 'A')}.
        </p>
        ) : (
          <p className="muted">It is the plant: from the command to the output, modulator and delay in it.</p>
        )}
        <Said found={found} />
      </DialogContent>
      <DialogActions>
        <Button onClick={close}>Leave it</Button>
        <Button variant="contained" onClick={take} disabled={!found.ok}>
          {act}
        </Button>
      </DialogActions>
    </Dialog>
  );
}

const Said = ({ found }: { found: { ok: true; value: MeasuredFile } | { ok: false; problem: Problem } }) =>
  found.ok ? (
    <p className="muted" data-testid="traces">
      {found.value.traces.map((t) => `${t.title}: ${t.frequency.length} points, ${print(t.frequency[0]!, 'Hz')} to ${print(t.frequency.at(-1)!, 'Hz')}, ${print(Math.max(...t.gain), 'dB')} to ${print(Math.min(...t.gain), 'dB')}`).join('; ')}
      {found.value.remarks.map((r) => `; ${r}`).join('')}.
    </p>
  ) : (
    <p className={css.fails}>{inWords(found.problem)}</p>
  );
