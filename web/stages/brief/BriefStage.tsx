'use client';
import Checkbox from '@mui/material/Checkbox';
import { Fragment } from 'react';
import { AMPLIFIERS, CARRIERS, DISCRETISATIONS, SETTINGS, settingsOf, structureNamed, STRUCTURES } from '../../../core/control';
import { methodChanges } from '../../../core/choice';
import { REQUIREMENTS } from '../../../core/corners/requirements';
import { fieldAt, topologyOf, type Design } from '../../../core/design';
import { valueAt } from '../../../core/design/edit';
import { lightLoadOf } from '../../../core/evaluation';
import { printQuantity as print } from '../../../core/quantity';
import { targetMask } from '../../../core/design/targetMask';
import { controllable } from '../../../core/topology/common';
import { LOADS, loadOf } from '../../../core/surroundings/loads';
import { MaskField, QuantityField, RangeField } from '../../frame/QuantityField';
import frame from '../../frame/frame.module.css';
import { Reed } from '../../frame/Reed';
import { askOfBrief } from '../../state/live';
import { actions, useStore } from '../../state/store';
import { pointName } from '../pointName';
import css from '../stages.module.css';

const FURTHER: { title: string; paths: string[] }[] = [
  { title: 'Load and ripple', paths: ['brief.loadStep', 'brief.rippleShare', 'brief.lineRipple'] },
  { title: 'Gate drive', paths: ['drive.voltage', 'drive.gateResistance', 'drive.turnOffResistance', 'drive.driverResistance', 'drive.deadTime', 'drive.supplyPower'] },
  { title: 'Control', paths: ['control.crossover', 'control.phaseMargin', 'control.ramp', 'control.delay', 'control.reference'] },
  { title: 'Heat', paths: ['sink.thermalResistance'] },
];

const LINE_PATHS = ['lineResistance', 'lineInductance'] as const;

/** What changes with the kind of load: what the new one asks for begins somewhere, what only others ask for goes. */
function loadChanges({ brief }: Design, id: string): Record<string, unknown> {
  const none = LOADS.flatMap((l) => Object.keys(l.asks ?? {})).map((key) => [`brief.${key}`, undefined]);
  const own = Object.entries(loadOf({ loadKind: id }).asks ?? {}).map(([key, begin]) => [`brief.${key}`, begin(brief)]);
  return { ...Object.fromEntries([...none, ...own]), 'brief.loadKind': id === LOADS[0]!.id ? undefined : id };
}

/** Settings of a control structure that are asked here: those of its corners stand beside the plot. */
const asked = ({ control, brief }: Design): string[] => Object.entries(settingsOf(control, brief.line.mains !== undefined)).flatMap(([key, s]) => (s.asked ? [`control.${key}`] : []));

/** Of names that are told apart by their ends */
const WIDE = { maxWidth: 178 };

/** Null where the resistor that turns a gate on turns it off as well. */
const TURN_OFF = 'drive.turnOffResistance';

/** The requirements, each with its limit and where it stands; beside them what else the brief says. */
export function BriefStage() {
  const design = useStore((s) => s.design);
  const { corners, cornersFresh } = useStore((s) => s.answers);
  const ask = (changes: Partial<Design['brief']>): void => void askOfBrief(changes);
  return (
    <div className={css.columns}>
      <div>
        <h2>Requirements</h2>
        <table className={css.list}>
          <thead>
            <tr>
              <th />
              <th />
              <th>requirement</th>
              <th>limit</th>
              <th style={{ textAlign: 'right' }}>worst</th>
              <th style={{ textAlign: 'right' }} title="what is left of the limit; nothing where it fails">room</th>
              <th>at</th>
            </tr>
          </thead>
          <tbody>
            {REQUIREMENTS.map((r) => {
              const { on } = design.requirements[r.id];
              const worst = corners?.worst.find((w) => w.id === r.id);
              return (
                <tr key={r.id} data-testid={`requirement-${r.id}`} style={{ color: on ? undefined : 'var(--muted)' }}>
                  <td style={{ width: 30 }}>
                    <Checkbox size="small" checked={on} sx={{ p: 0 }} slotProps={{ input: { 'aria-label': `${r.title}: ask for it` } }} onChange={(e) => actions.edit({ [`requirements.${r.id}.on`]: e.target.checked })} />
                  </td>
                  <td style={{ width: 24, lineHeight: 0 }}>
                    <Reed room={on ? worst?.room : undefined} height={24} />
                  </td>
                  <td style={{ fontWeight: 600 }}>{r.title}</td>
                  <td style={{ whiteSpace: 'nowrap' }}>
                    {r.direction} <QuantityField path={`requirements.${r.id}.limit`} label={`${r.title} limit`} />
                  </td>
                  <td className={`${css.number} ${worst && !worst.holds ? css.fails : ''} ${cornersFresh ? '' : 'stale'}`}>{on && worst ? print(worst.value, r.unit) : '–'}</td>
                  <td className={`${css.number} ${cornersFresh ? '' : 'stale'}`}>{on && worst ? (worst.holds ? `${Math.round(worst.room * 100)} %` : 'none') : ''}</td>
                  <td className="muted mono" style={{ whiteSpace: 'nowrap' }}>{on && worst ? pointName(worst.at) : ''}</td>
                </tr>
              );
            })}
          </tbody>
        </table>
        <p className="muted" style={{ maxWidth: 560 }}>
          Each is held at the corners of line and load in the hottest air. A reed is straight while there is room, leans as it
          shrinks, and breaks when a requirement fails.
        </p>
      </div>
      <div>
        <h2>What is asked for</h2>
        {[['brief.line', 'line'], ['brief.load', 'load'], ['brief.air', 'air']].map(([path, label]) => (
          <Row key={path} label={label!}>
            <RangeField path={path!} label={`${label} range`} />
          </Row>
        ))}
        <Row label="ac mains">
          {design.brief.line.mains === undefined ? (
            <button type="button" className={frame.link} onClick={() => ask({ line: { ...design.brief.line, mains: 50 } })}>
              the line is the mains
            </button>
          ) : (
            <>
              <QuantityField path="brief.line.mains" /> <Away label="ac mains: the line is dc" onClick={() => ask({ line: { min: design.brief.line.min, max: design.brief.line.max } })} />
            </>
          )}
        </Row>
        <Row label="parted from the line">
          <Checkbox size="small" checked={design.brief.isolated === true} sx={{ p: 0 }} slotProps={{ input: { 'aria-label': 'output parted from the line' } }} onChange={(e) => ask({ isolated: e.target.checked || undefined })} />
        </Row>
        {design.brief.line.mains === undefined && (
          <Row label="impedance of the line">
            {design.brief.lineResistance === undefined && design.brief.lineInductance === undefined ? (
              <button type="button" className={frame.link} title="The line is stiff; give it the impedance of wiring and source" onClick={() => actions.edit({ 'brief.lineResistance': 0.01, 'brief.lineInductance': 1e-6 })}>
                none
              </button>
            ) : (
              <>
                {LINE_PATHS.filter((path) => design.brief[path] !== undefined).map((path, k) => (
                  <Fragment key={path}>
                    {k > 0 && ' and '}
                    <QuantityField path={`brief.${path}`} />{' '}
                  </Fragment>
                ))}
                <Away label="impedance of the line: it is stiff" onClick={() => actions.edit({ 'brief.lineResistance': undefined, 'brief.lineInductance': undefined })} />
              </>
            )}
          </Row>
        )}
        <Row label="kind of load">
          <select className={frame.select} aria-label="Kind of load" value={loadOf(design.brief).id} onChange={(e) => actions.edit(loadChanges(design, e.target.value))}>
            {LOADS.map((l) => (
              <option key={l.id} value={l.id}>
                {l.title}
              </option>
            ))}
          </select>
        </Row>
        {Object.keys(loadOf(design.brief).asks ?? {}).map((key) => (
          <Row key={key} label={fieldAt(`brief.${key}`)!.title}>
            <QuantityField path={`brief.${key}`} />
          </Row>
        ))}
        {loadOf(design.brief) === LOADS[0] && (
          <Row label="load with an inductance of its own">
            {design.brief.loadInductance === undefined ? (
              <button type="button" className={frame.link} onClick={() => ask({ loadInductance: 1e-2 })}>
                give it
              </button>
            ) : (
              <>
                <QuantityField path="brief.loadInductance" /> <Away label="inductance of the load" onClick={() => ask({ loadInductance: undefined })} />
              </>
            )}
          </Row>
        )}
        <Row label="second output">
          {design.brief.further?.length ? (
            <>
              <QuantityField path="brief.further.0.voltage" /> at <RangeField path="brief.further.0.load" label="second load" /> <Away label="second output" onClick={() => ask({ further: undefined })} />
            </>
          ) : (
            <button type="button" className={frame.link} onClick={() => ask({ further: [{ voltage: design.brief.output.voltage / 2, load: { ...design.brief.load } }] })}>
              give one
            </button>
          )}
        </Row>
        <Row label="line step">
          {design.brief.lineStep === undefined ? (
            <button type="button" className={frame.link} onClick={() => actions.edit({ 'brief.lineStep': Number(((design.brief.line.max - design.brief.line.min) / 3).toPrecision(2)), 'requirements.lineDeviation': { limit: design.requirements.deviation.limit, on: true } })}>
              give one
            </button>
          ) : (
            <>
              <QuantityField path="brief.lineStep" /> <Away label="line step" onClick={() => actions.edit({ 'brief.lineStep': undefined, 'requirements.lineDeviation.on': false })} />
            </>
          )}
        </Row>
        <Row label="loop gain asked for up to">
          {design.brief.gainUpTo === undefined ? (
            <button type="button" className={frame.link} title="A least gain of the loop at low frequencies, held at every corner" onClick={() => actions.edit({ 'brief.gainUpTo': Number((design.control.crossover / 20).toPrecision(1)), 'requirements.lowGain.on': true })}>
              not asked
            </button>
          ) : (
            <>
              <QuantityField path="brief.gainUpTo" /> <Away label="loop gain at low frequencies" onClick={() => actions.edit({ 'brief.gainUpTo': undefined, 'requirements.lowGain.on': false })} />
            </>
          )}
        </Row>
        <Row label="output impedance mask">
          {design.brief.impedanceMask === undefined ? (
            <button type="button" className={frame.link} title="How many ohms the output may show over the frequency" onClick={() => actions.edit({ 'brief.impedanceMask': targetMask(design), 'requirements.impedance.on': true })}>
              give one
            </button>
          ) : (
            <>
              <MaskField /> <Away label="mask of the output impedance" onClick={() => actions.edit({ 'brief.impedanceMask': undefined, 'requirements.impedance.on': false })} />
            </>
          )}
        </Row>
        <Row label="load step takes">
          {design.brief.loadStepTime === undefined ? (
            <button type="button" className={frame.link} title="It comes at once; give a time for a slower one" onClick={() => actions.edit({ 'brief.loadStepTime': Number((0.1 / design.control.crossover).toPrecision(2)) })}>
              no time
            </button>
          ) : (
            <>
              <QuantityField path="brief.loadStepTime" /> <Away label="time of the load step: it comes at once" onClick={() => actions.edit({ 'brief.loadStepTime': undefined })} />
            </>
          )}
        </Row>
        <Row label="at the smallest load">
          <select className={frame.select} aria-label="Conduction at the smallest load" value={design.brief.lightLoad ?? ''} onChange={(e) => actions.edit({ 'brief.lightLoad': e.target.value || undefined })}>
            <option value="">as it comes</option>
            <option value="continuous">continuous</option>
            <option value="discontinuous">discontinuous</option>
          </select>
        </Row>
        <LightLoadNote design={design} />
        {FURTHER.map(({ title, paths }) => (
          <div key={title}>
            <h3>{title}</h3>
            {title === 'Control' && (
              <Row label="what the loop sets">
                <select className={frame.select} style={WIDE} aria-label="Control method" value={design.control.method} onChange={(e) => actions.edit(methodChanges(design, e.target.value))}>
                  {STRUCTURES.filter((c) => c.id === design.control.method || !c.refuses?.(controllable(topologyOf(design)!))).map((c) => (
                    <option key={c.id} value={c.id}>
                      {topologyOf(design)!.mains && c.sets === 'the duty' ? 'the duty, by the current' : c.sets}
                    </option>
                  ))}
                </select>
              </Row>
            )}
            {title === 'Control' && (
              <Row label="error amplifier">
                <select className={frame.select} style={WIDE} aria-label="Error amplifier" value={design.control.amplifier} onChange={(e) => actions.edit({ 'control.amplifier': e.target.value })}>
                  {AMPLIFIERS.map((a) => (
                    <option key={a.id} value={a.id}>
                      {a.title}
                    </option>
                  ))}
                </select>
              </Row>
            )}
            {title === 'Control' && (
              <Row label="realised as">
                <select className={frame.select} style={WIDE} aria-label="Realised as" value={design.control.sampled} onChange={(e) => actions.edit({ 'control.sampled': e.target.value })}>
                  <option value="none">a network</option>
                  {DISCRETISATIONS.map((m) => (
                    <option key={m.id} value={m.id} title={m.note}>
                      sampled, {m.title}
                    </option>
                  ))}
                </select>
              </Row>
            )}
            {title === 'Control' && structureNamed(design.control.method)!.drive === STRUCTURES[0]!.drive && (
              <Row label="carrier">
                <select className={frame.select} style={WIDE} aria-label="Carrier" value={design.control.carrier} onChange={(e) => actions.edit({ 'control.carrier': e.target.value })}>
                  {CARRIERS.map((c) => (
                    <option key={c.id} value={c.id}>
                      {c.title}
                    </option>
                  ))}
                </select>
              </Row>
            )}
            {[...paths, ...(title === 'Control' ? asked(design) : [])].map((path) => (
              <Row key={path} label={fieldAt(path)!.title}>
                {noneOf(path) ? (
                  <NoneField path={path} none={noneOf(path)!} />
                ) : NOT_KNOWN[path] ? (
                  <NotKnown path={path} begins={NOT_KNOWN[path]} />
                ) : path !== TURN_OFF ? (
                  <QuantityField path={path} />
                ) : design.drive.turnOffResistance == null ? (
                  <button type="button" className={frame.link} title="The same resistor turns it off; give another value for one of its own" onClick={() => actions.edit({ [TURN_OFF]: design.drive.gateResistance })}>
                    the same
                  </button>
                ) : (
                  <>
                    <QuantityField path={path} /> <Away label="turn-off gate resistance: the same as on" onClick={() => actions.edit({ [TURN_OFF]: null })} />
                  </>
                )}
              </Row>
            ))}
          </div>
        ))}
      </div>
    </div>
  );
}

/** What counts as nothing until it is given, and what it begins with. */
const NOT_KNOWN: Readonly<Record<string, number>> = { 'drive.driverResistance': 1, 'drive.supplyPower': 0.1 };

/** A value that need not be given: by a click it is, by another it is taken away. */
function NotKnown({ path, begins }: { path: string; begins: number }) {
  const given = useStore((s) => valueAt(s.design, path) !== undefined);
  return given ? (
    <>
      <QuantityField path={path} /> <Away label={`${fieldAt(path)!.title}: not known`} onClick={() => actions.edit({ [path]: undefined })} />
    </>
  ) : (
    <button type="button" className={frame.link} onClick={() => actions.edit({ [path]: begins })}>
      not known
    </button>
  );
}

/** How a setting of the control that may be none reads then, and what it begins with. */
const noneOf = (path: string): { reads: string; begins: number } | undefined => SETTINGS[path.replace(/^control\./, '')]?.none;

/** A setting that may be none: given by a click, taken away again by another. */
function NoneField({ path, none }: { path: string; none: { reads: string; begins: number } }) {
  const given = useStore((s) => s.design.control[path.replace(/^control\./, '')] !== null);
  const { title } = fieldAt(path)!;
  return given ? (
    <>
      <QuantityField path={path} /> <Away label={`${title}: ${none.reads}`} onClick={() => actions.edit({ [path]: null })} />
    </>
  ) : (
    <button type="button" className={frame.link} aria-label={`${title}: ${none.reads}`} title="Click to give one" onClick={() => actions.edit({ [path]: none.begins })}>
      {none.reads}
    </button>
  );
}

/** What the conduction wanted at light load takes, or where it is not to be had. */
function LightLoadNote({ design }: { design: Design }) {
  const found = lightLoadOf(design);
  if (!found) return null;
  const where = found.fails.map((l) => print(l.line, 'V')).join(', ');
  return (
    <p className={found.fails.length > 0 ? css.fails : 'muted'} style={{ margin: 0, fontSize: 12 }} data-testid="light-load">
      {found.fails.length > 0
        ? `${print(design.brief.load.min, 'A')} is not ${found.wanted} at ${where}: ${found.wanted === 'continuous' ? 'give L1 more inductance' : 'give L1 less inductance, or take a topology with a diode'}`
        : found.share === design.brief.rippleShare
          ? `so it is, at all of the line`
          : `so it is, with a ripple share of ${print(found.share, '%')}`}
    </p>
  );
}

const Away = ({ label, onClick }: { label: string; onClick: () => void }) => (
  <button type="button" className={frame.link} aria-label={`Leave out: ${label}`} title="Leave it out" onClick={onClick}>
    ✕
  </button>
);

const Row = ({ label, children }: { label: string; children: React.ReactNode }) => (
  <div style={{ display: 'flex', justifyContent: 'space-between', padding: '2px 0' }}>
    <span className="muted">{label}</span>
    <span>{children}</span>
  </div>
);
