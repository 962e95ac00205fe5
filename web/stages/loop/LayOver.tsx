'use client';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useRef, useState } from 'react';
import { readMeasured } from '../../../core/measured/read';
import { carriedTrace } from '../../../core/measured/response';
import { KINDS, MOST_MEASURED, ROLES, type Kind, type MeasuredFile, type Role } from '../../../core/measured/types';
import { inWords, type Problem } from '../../../core/problem';
import { printQuantity as print } from '../../../core/quantity';
import frame from '../../frame/frame.module.css';
import { actions, useStore } from '../../state/store';
import css from '../stages.module.css';

/** Bytes of a file at most: more is refused before it is read */
const LARGEST = 50_000_000;

/** A file of a measured response: chosen, its columns shown as they were recognised and corrected, and taken into the design. */
export function LayOver() {
  const file = useRef<HTMLInputElement>(null);
  const [chosen, setChosen] = useState<{ name: string; text: string }>();
  const open = async (f: File): Promise<void> => {
    if (f.size > LARGEST) return actions.refuse({ code: 'size', where: f.name, message: `${Math.round(f.size / 1e6)} MB is more than is read here`, remedy: 'keep every tenth row: a few hundred frequencies tell all there is' });
    const text = await f.text();
    const read = readMeasured(text);
    if (!read.ok && read.problem.code !== 'columns' && read.problem.code !== 'value') return actions.refuse({ ...read.problem, where: [f.name, read.problem.where].filter((x) => x !== 'file').join(', ') });
    setChosen({ name: f.name.replace(/\.\w+$/, ''), text });
  };
  return (
    <>
      <button type="button" className={frame.link} style={{ whiteSpace: 'nowrap', fontSize: 12 }} title="A response measured on the bench, laid over the computed one" onClick={() => file.current?.click()}>
        lay over a file…
      </button>
      <input
        ref={file}
        type="file"
        accept=".csv,.txt,.tsv,.dat"
        hidden
        aria-label="Measured file"
        onChange={(e) => {
          const [f] = e.target.files ?? [];
          e.target.value = '';
          if (f) void open(f);
        }}
      />
      {chosen && <Recognised {...chosen} close={() => setChosen(undefined)} />}
    </>
  );
}

function Recognised({ name, text, close }: { name: string; text: string; close: () => void }) {
  const [roles, setRoles] = useState<Role[]>();
  const [of, setOf] = useState<Kind>('plant');
  const measured = useStore((s) => s.design.measured) ?? [];
  const point = useStore((s) => s.point);
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
    if (!found.ok) return;
    const taken = found.value.traces.map((t) => carriedTrace({ ...t, title: found.value.traces.length > 1 ? `${name}, ${t.title}` : name }, of, { line: point.line, load: point.load }));
    const titles = new Set(taken.map((t) => t.title));
    const wrong = actions.edit({ measured: [...measured.filter((m) => !titles.has(m.title)), ...taken].slice(-MOST_MEASURED) });
    if (!wrong) close();
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
        <p>
          It was measured of{' '}
          <select className={frame.select} aria-label="what was measured" style={{ width: 'auto', maxWidth: 'none' }} value={of} onChange={(e) => setOf(e.target.value as Kind)}>
            {KINDS.map((k) => (
              <option key={k.id} value={k.id}>
                {k.title}
              </option>
            ))}
          </select>
          , at the point in view: {print(point.line, 'V')}, {print(point.load, 'A')}.
        </p>
        <Said found={found} />
      </DialogContent>
      <DialogActions>
        <Button onClick={close}>Leave it</Button>
        <Button variant="contained" onClick={take} disabled={!found.ok}>
          Lay it over
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
