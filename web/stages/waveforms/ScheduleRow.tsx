'use client';
import { topologyOf, type Design } from '../../../core/design';
import { FEEDBACK, HOW, MOST_SCHEDULES, WHAT, type Failure, type Schedule, type ScheduleStep } from '../../../core/schedule';
import { parseQuantity, printTyped } from '../../../core/quantity';
import frame from '../../frame/frame.module.css';
import { Editor, QuantityField } from '../../frame/QuantityField';
import { actions, useStore } from '../../state/store';

/** Put a copy of a schedule among the design's own, under a name of its own. @returns the name, or nothing where there is no room */
export function ownCopy(s: Schedule, change: (own: Schedule) => Schedule = (own) => own): string | undefined {
  const { design } = useStore.getState();
  const all = design.schedules ?? [];
  if (all.length >= MOST_SCHEDULES) {
    actions.refuse({ code: 'size', where: 'schedules', message: `a design has ${MOST_SCHEDULES} schedules of its own at most`, remedy: 'take one away first' });
    return undefined;
  }
  let k = all.length + 1;
  while (all.some((x) => x.name === `own ${k}`)) k++;
  const name = `own ${k}`;
  return actions.edit({ schedules: [...all, change({ ...s, name })] }) ? undefined : name;
}

const unitOf = (what: ScheduleStep['what']): 'A' | 'V' => (what === 'load' ? 'A' : 'V');

/** What a step of a kind goes to when it is first asked for. */
const beginsAt = (what: ScheduleStep['what'], brief: Design['brief']): number => ({ load: brief.load.max, line: brief.line.max, reference: brief.output.voltage, enable: 0 })[what];

/** What a step goes to: amps of a load, volts of line or reference. */
function ToField({ path, step }: { path: string; step: ScheduleStep }) {
  const unit = unitOf(step.what);
  if (step.what === 'enable')
    return (
      <select className={frame.select} aria-label="gates are" value={step.to} onChange={(e) => actions.edit({ [path]: Number(e.target.value) })}>
        <option value={0}>off</option>
        <option value={1}>on</option>
      </select>
    );
  return (
    <Editor
      label={`${step.what} goes to`}
      shown={printTyped(step.to, unit, 3)}
      start={printTyped(step.to, unit)}
      paths={[path]}
      read={(text) => {
        const read = parseQuantity(text, unit, path);
        return read.ok ? { changes: { [path]: read.value }, echo: printTyped(read.value, unit, 9) } : read.problem;
      }}
    />
  );
}

/** A schedule of the design's own, in a row: where it begins, each step, how long it lasts. Of a usual one: a way to make it one's own. */
export function ScheduleRow({ schedule, show }: { schedule: Schedule; show: (name: string) => void }) {
  const own = useStore((s) => s.design.schedules) ?? [];
  const design = useStore((s) => s.design);
  const { brief } = design;
  const k = own.findIndex((s) => s.name === schedule.name);
  if (k < 0)
    return (
      <button type="button" className={frame.link} title="A copy of it, with steps that are typed and dragged" onClick={() => {
        const name = ownCopy(schedule);
        if (name) show(name);
      }}>
        make it your own
      </button>
    );
  const path = `schedules.${k}`;
  const put = (steps: ScheduleStep[]): unknown => actions.edit({ [`${path}.steps`]: steps });
  const fail = (fails: Failure[]): unknown => actions.edit({ [`${path}.fails`]: fails.length > 0 ? fails : undefined });
  const { slots } = topologyOf(design)!;
  return (
    <span data-testid="schedule" style={{ display: 'flex', flexWrap: 'wrap', gap: '2px 10px', alignItems: 'baseline' }}>
      <label>
        from{' '}
        <select className={frame.select} aria-label="Begins" value={schedule.begins} onChange={(e) => actions.edit({ [`${path}.begins`]: e.target.value })}>
          <option value="rest">rest</option>
          <option value="settled">the settled cycle</option>
        </select>
      </label>
      {schedule.steps.map((s, i) => (
        <span key={i} style={{ whiteSpace: 'nowrap' }} data-testid={`step-${i}`}>
          <select className={frame.select} aria-label={`Step ${i + 1}`} value={s.what} onChange={(e) => put(schedule.steps.map((x, j) => (j === i ? { ...x, what: e.target.value as ScheduleStep['what'], to: beginsAt(e.target.value as ScheduleStep['what'], brief) } : x)))}>
            {WHAT.map((w) => (
              <option key={w} value={w}>
                {w === 'enable' ? 'gates' : w}
              </option>
            ))}
          </select>{' '}
          to <ToField path={`${path}.steps.${i}.to`} step={s} /> at <QuantityField path={`${path}.steps.${i}.at`} digits={3} /> in <QuantityField path={`${path}.steps.${i}.takes`} digits={3} />{' '}
          <button type="button" className={frame.link} aria-label={`take step ${i + 1} away`} onClick={() => put(schedule.steps.filter((_, j) => j !== i))}>
            ×
          </button>
        </span>
      ))}
      <button type="button" className={frame.link} onClick={() => put([...schedule.steps, { at: Number((schedule.lasts / 2).toPrecision(3)), what: 'load', to: brief.load.max, takes: 0 }])}>
        one more step
      </button>
      {(schedule.fails ?? []).map((f, i) => (
        <span key={`fails ${i}`} style={{ whiteSpace: 'nowrap' }} data-testid={`fails-${i}`}>
          <select className={frame.select} aria-label={`Part that fails ${i + 1}`} value={f.part} onChange={(e) => fail((schedule.fails ?? []).map((x, j) => (j === i ? { ...x, part: e.target.value } : x)))}>
            {slots.map((s) => (
              <option key={s.id}>{s.id}</option>
            ))}
            <option value={FEEDBACK}>feedback</option>
          </select>{' '}
          <select className={frame.select} aria-label={`How it fails ${i + 1}`} value={f.how} onChange={(e) => fail((schedule.fails ?? []).map((x, j) => (j === i ? { ...x, how: e.target.value as Failure['how'] } : x)))}>
            {HOW.map((h) => (
              <option key={h} value={h}>
                {{ open: 'opens', short: 'is a short', leaky: 'leaks' }[h]}
              </option>
            ))}
          </select>{' '}
          {f.how === 'leaky' && <QuantityField path={`${path}.fails.${i}.resistance`} digits={3} />} at <QuantityField path={`${path}.fails.${i}.at`} digits={3} />{' '}
          <button type="button" className={frame.link} aria-label={`failure ${i + 1} away`} onClick={() => fail((schedule.fails ?? []).filter((_, j) => j !== i))}>
            ×
          </button>
        </span>
      ))}
      <button type="button" className={frame.link} onClick={() => fail([...(schedule.fails ?? []), { at: Number((schedule.lasts / 2).toPrecision(3)), part: (slots.find((s) => s.kind === 'switch') ?? slots[0]!).id, how: 'open', resistance: 10 }])}>
        a part fails
      </button>
      <span style={{ whiteSpace: 'nowrap' }}>
        for <QuantityField path={`${path}.lasts`} digits={3} />
      </span>
      <button type="button" className={frame.link} onClick={() => (actions.edit({ schedules: own.length > 1 ? own.filter((s) => s.name !== schedule.name) : undefined }), show('load step'))}>
        take it away
      </button>
    </span>
  );
}
