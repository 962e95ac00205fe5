'use client';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useRef, useState } from 'react';
import { bestShift, captureReader, carried, deviationOf, LARGEST_CAPTURE, MOST_CAPTURES, type Capture, type Captured, type CaptureReader } from '../../../core/capture';
import { inWords, type Problem } from '../../../core/problem';
import { printQuantity as print } from '../../../core/quantity';
import { COLUMNS, FileInput } from '../../frame/FileInput';
import frame from '../../frame/frame.module.css';
import { QuantityField } from '../../frame/QuantityField';
import type { Run } from '../../state/inTime';
import { actions, useStore } from '../../state/store';
import css from '../stages.module.css';

/** A capture that is being read, or has been. */
interface Chosen {
  name: string;
  reader: CaptureReader;
  read?: Capture;
  problem?: Problem;
  rows: number;
}

/** Is a capture one of a trace of this run? */
export const isOver = (c: Captured, trace: string, { schedule }: Pick<Run, 'schedule'>): boolean => c.trace === trace && (c.schedule ?? schedule.name) === schedule.name;

/** Captures laid over a trace: how far they are away, shifted, scaled, taken away; and a way to lay one over. */
export function Captures({ run, id }: { run: Run; id: string }) {
  const all = useStore((s) => s.design.captures) ?? [];
  const file = useRef<HTMLInputElement>(null);
  const stopped = useRef(false);
  const [chosen, setChosen] = useState<Chosen>();
  const quantity = run.traces.findIndex((t) => t.id === id);
  const { unit } = run.traces[quantity]!;
  const own = all.flatMap((c, k) => (isOver(c, id, run) ? [{ c, k }] : []));

  /** Read it piece by piece, so that it is seen how far that is, and can be stopped. */
  const open = async (f: File): Promise<void> => {
    if (f.size > LARGEST_CAPTURE) return actions.refuse({ code: 'size', where: f.name, message: `${Math.round(f.size / 1e6)} MB is more than is read here`, remedy: 'save a shorter part, or fewer points' });
    stopped.current = false;
    const reader = captureReader();
    const name = f.name.replace(/\.\w+$/, '').slice(0, 60);
    setChosen({ name, reader, rows: 0 });
    const stream = f.stream().pipeThrough(new TextDecoderStream()).getReader();
    for (;;) {
      const { done, value } = await stream.read();
      if (stopped.current) return void stream.cancel();
      const problem = done ? undefined : reader.push(value);
      if (problem) {
        void stream.cancel();
        return setChosen({ name, reader, rows: reader.rows(), problem });
      }
      if (done) break;
      setChosen({ name, reader, rows: reader.rows() });
    }
    const read = reader.end();
    setChosen({ name, reader, rows: reader.rows(), ...(read.ok ? { read: read.value } : { problem: read.problem }) });
  };
  const close = (): void => {
    stopped.current = true;
    setChosen(undefined);
  };
  return (
    <div data-testid="captures">
      <h3 style={{ display: 'flex', justifyContent: 'space-between' }}>
        Captures
        {all.length < MOST_CAPTURES && (
          <button type="button" className={frame.link} style={{ fontSize: 12 }} onClick={() => file.current?.click()}>
            lay one over …
          </button>
        )}
      </h3>
      <FileInput ref={file} title="Capture file" accept={COLUMNS} open={(f) => void open(f)} />
      {own.map(({ c, k }) => {
        const off = deviationOf(run.record, quantity, c);
        return (
          <div key={`${c.title} ${k}`} style={{ marginBottom: 6 }}>
            <div className={frame.row}>
              <b style={{ color: 'var(--ochre-text)', whiteSpace: 'normal', minWidth: 0, overflowWrap: 'anywhere' }}>{c.title}</b>
              <button type="button" className={frame.link} style={{ textDecoration: 'none' }} aria-label={`take ${c.title} away`} onClick={() => actions.edit({ captures: all.length > 1 ? all.filter((_, i) => i !== k) : undefined })}>
                ×
              </button>
            </div>
            <div className={frame.row}>
              <span>away, rms</span>
              <span className="mono" data-testid="away">{off ? print(off.rms, unit, 3) : 'not over the run'}</span>
            </div>
            {off && (
              <div className={frame.row}>
                <span>most, at {print(off.at, 's', 3)}</span>
                <span className="mono">{print(off.largest, unit, 3)}</span>
              </div>
            )}
            <div className={frame.row}>
              <span>shifted by</span>
              <span>
                <QuantityField path={`captures.${k}.shift`} digits={4} />{' '}
                <button
                  type="button"
                  className={frame.link}
                  onClick={() => {
                    const shift = bestShift(run.record, quantity, c);
                    if (shift === undefined) actions.refuse({ code: 'range', where: c.title, message: 'nothing of it can lie over this run', remedy: 'run for longer, or lay a shorter capture over' });
                    else actions.edit({ [`captures.${k}.shift`]: Number(shift.toPrecision(9)) });
                  }}
                >
                  best
                </button>
              </span>
            </div>
            <div className={frame.row}>
              <span>times</span>
              <QuantityField path={`captures.${k}.scale`} digits={4} />
            </div>
          </div>
        );
      })}
      {chosen && <Preview chosen={chosen} unit={unit} again={(time) => {
        const read = chosen.reader.end(time);
        setChosen({ ...chosen, ...(read.ok ? { read: read.value, problem: undefined } : { problem: read.problem }) });
      }} close={close} take={(column) => {
        const { time, value } = carried(chosen.read!.time, chosen.read!.values[column]!);
        const wrong = actions.edit({ captures: [...all, { title: chosen.name, trace: id, schedule: run.schedule.name, time, value, shift: 0, scale: 1, offset: 0 }] });
        if (!wrong) close();
      }} />}
    </div>
  );
}

/** The columns of a capture as they were recognised, before one of them is taken. */
function Preview({ chosen: { name, read, problem, rows }, unit, again, take, close }: { chosen: Chosen; unit: string; again: (time: number) => void; take: (column: number) => void; close: () => void }) {
  const values = read?.columns.flatMap((c, k) => (c.role === 'value' ? [k] : [])) ?? [];
  const [column, setColumn] = useState<number>();
  const wanted = column !== undefined && values.includes(column) ? column : values[0];
  return (
    <Dialog open onClose={close} fullWidth maxWidth="sm">
      <DialogTitle>{name}</DialogTitle>
      <DialogContent>
        {problem && <p className={css.fails}>{problem.where === 'file' ? '' : `${problem.where}: `}{inWords(problem)}.</p>}
        {!read && !problem && <p role="status">{rows.toLocaleString('en')} rows read …</p>}
        {read && (
          <>
            <table className={css.list} data-testid="capture-columns">
              <thead>
                <tr>
                  <th>column</th>
                  <th>is</th>
                  <th>unit</th>
                  <th>first rows</th>
                </tr>
              </thead>
              <tbody>
                {read.columns.map((c, k) => (
                  <tr key={k}>
                    <td>{c.title}</td>
                    <td>
                      <label>
                        <input type="radio" name="time" checked={c.role === 'time'} onChange={() => again(k)} /> time
                      </label>{' '}
                      <label>
                        <input type="radio" name="value" checked={k === wanted} disabled={c.role === 'time'} onChange={() => setColumn(k)} /> this trace
                      </label>
                    </td>
                    <td>{c.unit || '–'}</td>
                    <td className={css.number}>{[...read.values[k]!.slice(0, 3)].map((v) => print(v, c.role === 'time' ? 's' : unit === 'A' ? 'A' : 'V', 3)).join(', ')}</td>
                  </tr>
                ))}
              </tbody>
            </table>
            <p className="muted">{read.time.length.toLocaleString('en')} rows over {print(read.time.at(-1)! - read.time[0]!, 's', 3)}.</p>
          </>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={close}>{read || problem ? 'Leave it' : 'Stop'}</Button>
        <Button variant="contained" disabled={!read || wanted === undefined} onClick={() => take(wanted!)}>
          Lay it over
        </Button>
      </DialogActions>
    </Dialog>
  );
}
