'use client';
import { useShallow } from 'zustand/react/shallow';
import { useEffect, useMemo, useRef, type RefObject } from 'react';
import { inWords } from '../../../core/problem';
import { printQuantity as print } from '../../../core/quantity';
import { schedulesOf, SETTLED, type Moves } from '../../../core/schedule';
import frame from '../../frame/frame.module.css';
import { inTimeActions, useInTime, type Run } from '../../state/inTime';
import { useStore } from '../../state/store';
import css from '../stages.module.css';
import { lanesOf } from './lanes';
import { RunLanes } from './RunLanes';
import { ScheduleRow } from './ScheduleRow';

/** ms of no change after which a run is begun */
const REST = 250;

/** The converter in time: run through a schedule, exactly from event to event, seen while it grows. */
export function InTime({ svg }: { svg: RefObject<SVGSVGElement | null> }) {
  const design = useStore((s) => s.design);
  const point = useStore((s) => s.point);
  const kept = useStore((s) => s.kept);
  // Not the window that is looked at: that changes with every frame.
  const { name, chosen, run, problem, progress, averaged, mean } = useInTime(useShallow(({ name, chosen, run, problem, progress, averaged, mean }) => ({ name, chosen, run, problem, progress, averaged, mean })));
  const schedules = schedulesOf(design, point);
  const schedule = schedules.find((s) => s.name === name) ?? schedules.find((s) => s.name === 'load step')!;
  const lanes = lanesOf(design);
  // A run depends on what is looked at, and not on which lane that stands in.
  const asked = JSON.stringify([schedule, lanes.flat().toSorted()]);
  // Figures of a design are the same whatever it is run through.
  const told = useMemo(() => JSON.stringify({ ...design, schedules: undefined, lanes: undefined, looks: undefined, captures: undefined, pins: undefined }), [design]);
  const of = useRef('');
  const under = useRef<{ of: string; wanted: readonly string[] }>({ of: '', wanted: [] });
  const isOf = (r: Run): boolean => of.current === told && r.point === point && JSON.stringify(r.schedule) === JSON.stringify(schedule);
  useEffect(() => {
    // What is taken away is in it all the same.
    const same = JSON.stringify([told, point, schedule]);
    if (under.current.of === same && lanes.flat().every((id) => under.current.wanted.includes(id))) return undefined;
    const timer = setTimeout(() => {
      of.current = told;
      under.current = { of: same, wanted: lanes.flat() };
      inTimeActions.ask({ design, point, schedule, wanted: lanes.flat() });
    }, REST);
    return () => clearTimeout(timer);
    // oxlint-disable-next-line react-hooks/exhaustive-deps -- told and asked say all that the run depends on
  }, [told, point, asked]);
  const whole = run !== undefined && progress === undefined && run.end.t >= run.schedule.lasts * (1 - 1e-9);
  useEffect(() => {
    if (run && whole) inTimeActions.layOver(kept, run);
  }, [kept, run, whole]);
  useEffect(() => {
    if (run && whole && averaged) void inTimeActions.meanOf(run);
  }, [run, whole, averaged]);
  const fresh = run !== undefined && isOf(run);
  return (
    <>
      <div style={{ display: 'flex', gap: '2px 10px', flexWrap: 'wrap', alignItems: 'baseline', fontSize: 12, minHeight: 20 }} data-testid="run-state">
        {problem ? (
          <span className={css.fails}>{inWords(problem)}.</span>
        ) : progress !== undefined ? (
          <span className="muted">
            running, {print(progress, '%', 2)}{' '}
            <button type="button" className={frame.link} onClick={inTimeActions.stop}>
              stop
            </button>
          </span>
        ) : run ? (
          <span className="muted" style={{ whiteSpace: 'nowrap' }}>
            switched, exact: {Math.round(run.end.t / run.period).toLocaleString('en')} periods{run.moves ? <Rest {...run.moves} /> : null}{' '}
            <button type="button" className={frame.link} title="From where it has ended, for as long again" onClick={inTimeActions.goOn}>
              go on
            </button>{' '}
            <button type="button" className={frame.link} title={`Until no state moves by more than ${SETTLED.toExponential(0)} of the largest of its kind in a period`} onClick={inTimeActions.untilSettled}>
              until settled
            </button>
          </span>
        ) : (
          <span className="muted">running …</span>
        )}
        {run && progress === undefined && !problem && (
          <label style={{ whiteSpace: 'nowrap' }}>
            <input type="checkbox" checked={averaged} onChange={(e) => inTimeActions.average(e.target.checked)} style={{ verticalAlign: -2, margin: '0 4px 0 0' }} />
            averaged over it
            {averaged && mean && mean.run === run && (
              <span className={'problem' in mean ? css.fails : 'muted'} data-testid="averaged" style={{ whiteSpace: 'normal' }}>
                {'problem' in mean ? `: ${inWords(mean.problem)}` : `: ${mean.ran.toLocaleString('en')} of ${mean.periods.toLocaleString('en')} periods run, ${print(mean.ms / 1e3, 's', 2)} instead of ${print(run.ms / 1e3, 's', 2)}`}
              </span>
            )}
          </label>
        )}
        <ScheduleRow schedule={schedule} show={inTimeActions.show} />
      </div>
      <div className={fresh ? '' : 'stale'} style={{ flex: 1, minHeight: 0 }}>
        {run && <RunLanes key={chosen} run={run} asked={schedule} lanes={lanes} svg={svg} />}
      </div>
    </>
  );
}

/** Whether a run has come to rest, and how that is known. */
function Rest({ share, of, settled }: Moves) {
  return settled ? (
    <b data-testid="settled" title={`In one more period no state moves by more than ${share.toExponential(1)} of the largest of its kind`}>, settled</b>
  ) : (
    <span title="Largest change of a state in one more period, as a share of the largest of its kind">, {of} still moves by {share.toExponential(0)} a period</span>
  );
}

/** Bins that a run is saved in where it has more points */
const MOST_SAVED = 200_000;

/** Every point of a run, in columns; undefined where it is too long to be kept so. */
export function runInColumns({ record, traces, end }: Run): Record<string, Float64Array> | undefined {
  const points = record.pointsIn(0, end.t, Infinity);
  return points && { 'time (s)': points.time, ...Object.fromEntries(traces.map((t, i) => [`${t.title} (${t.unit})`, points.values[i]!])) };
}

/** A run as it is saved: every point, or where these are very many least and most of bins. */
export function runAsColumns({ record, traces, end }: Run): Record<string, readonly number[]> {
  const points = record.pointsIn(0, end.t, MOST_SAVED);
  if (points) return { 'time (s)': [...points.time], ...Object.fromEntries(traces.map((t, i) => [`${t.title} (${t.unit})`, [...points.values[i]!]])) };
  const bins = MOST_SAVED / 10;
  const edges = Array.from({ length: bins + 1 }, (_, k) => (end.t * k) / bins);
  return {
    'from (s)': edges.slice(0, -1),
    'to (s)': edges.slice(1),
    ...Object.fromEntries(traces.flatMap((t, i) => {
      const { least, most } = record.columns(i, 0, end.t, bins);
      return [[`${t.title}, least (${t.unit})`, [...least]], [`${t.title}, most (${t.unit})`, [...most]]];
    })),
  };
}
