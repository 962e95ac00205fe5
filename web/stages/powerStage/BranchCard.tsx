'use client';
import { useState } from 'react';
import { slotsOf, type Branch } from '../../../core/branches/branch';
import { beadOf, USUAL_BEAD } from '../../../core/branches/bead';
import { ringingFrom } from '../../../core/branches/loop';
import { usualRegulator } from '../../../core/branches/regulator';
import { dampBranch } from '../../../core/choice';
import { parseQuantity, printQuantity as print, type UnitName } from '../../../core/quantity';
import frame from '../../frame/frame.module.css';
import { OverrideField, QuantityField } from '../../frame/QuantityField';
import { TableField } from '../../frame/TableField';
import { useShelf } from '../../state/shelf';
import { actions, useStore } from '../../state/store';
import css from '../stages.module.css';

/** What a branch has besides its parts: how a filter is damped and fed back, what a bead or a regulator is, what was measured of a ringing. */
export function BranchCard({ id, branch, leave }: { id: string; branch: Branch; leave: () => void }) {
  const Body = BODIES[branch.kind];
  if (!Body) return null;
  return (
    <section style={{ border: '1px solid var(--line)', borderRadius: 10, padding: '8px 12px', margin: '8px 0' }} data-testid={`branch-${id}`} aria-label={`Branch ${id}`}>
      <div style={{ display: 'flex', justifyContent: 'flex-end' }}>
        <button type="button" className={frame.link} onClick={leave}>
          close
        </button>
      </div>
      <Body id={id} branch={branch} />
    </section>
  );
}

const BODIES: Partial<Record<Branch['kind'], (p: { id: string; branch: Branch }) => React.ReactNode>> = { filter: Filter, bead: BeadFields, regulator: RegulatorFields, snubber: Ringing };
export const hasCard = (kind: Branch['kind']): boolean => BODIES[kind] !== undefined;

const Row = ({ label, children }: { label: string; children: React.ReactNode }) => (
  <div className={frame.row}>
    <span className="muted">{label}</span>
    <span>{children}</span>
  </div>
);

const columns = { display: 'grid', gridTemplateColumns: 'minmax(0, 1fr) minmax(0, 1fr)', gap: '0 24px' } as const;

/** Which side of it the output is fed back at. */
const FedBack = ({ id, branch }: { id: string; branch: Branch }) => (
    <Row label="fed back">
      <select className={frame.select} aria-label="Feedback point" value={branch.feedback ?? ''} onChange={(e) => actions.edit({ [`branches.${id}.feedback`]: e.target.value || undefined })}>
        <option value="">behind it</option>
        <option value="before">before it</option>
      </select>
    </Row>
);

function Filter({ id, branch }: { id: string; branch: Branch }) {
  const design = useStore((s) => s.design);
  const figures = useStore((s) => s.answers.figures);
  const shelf = useShelf();
  const { C, E } = slotsOf(id);
  const resistor = figures?.sizing.values[`${branch.damped === 'series' ? C : E} resistor`];
  const damp = (how: string): void => {
    const next = dampBranch(design, id, (how || undefined) as Branch['damped'], shelf);
    if (next.ok) actions.take(next.value);
    else actions.refuse(next.problem);
  };
  return (
    <div style={columns}>
      <Row label="damped">
        <select className={frame.select} aria-label="Damping of the second stage" value={branch.damped ?? ''} onChange={(e) => damp(e.target.value)}>
          <option value="">not</option>
          <option value="parallel">R-C beside its capacitor</option>
          <option value="series">R in series with it</option>
        </select>
      </Row>
      <FedBack id={id} branch={branch} />
      {resistor && (
        <Row label="by">
          <OverrideField path={`branches.${id}.resistance`} unit="Ω" label="damping resistance" computed={resistor.taken} suggested={resistor.suggested} />
        </Row>
      )}
    </div>
  );
}

function BeadFields({ id, branch }: { id: string; branch: Branch }) {
  const own = branch.bead ?? USUAL_BEAD;
  const { inductance, loss } = beadOf(own);
  return (
    <div style={columns}>
      <Row label="at dc">
        <QuantityField path={`branches.${id}.bead.resistance`} />
      </Row>
      <FedBack id={id} branch={branch} />
      <Row label="in the circuit">
        <span className="mono">
          {print(inductance, 'H', 3)} ∥ {print(loss, 'Ω', 3)}
        </span>
      </Row>
      <TableField label="its impedance over the frequency" title="Frequency and ohms, a row each" table={own.impedance} take={(impedance) => actions.edit({ [`branches.${id}.bead`]: { ...own, impedance } })} />
    </div>
  );
}

function RegulatorFields({ id, branch }: { id: string; branch: Branch }) {
  const output = useStore((s) => s.design.brief.output.voltage);
  const post = useStore((s) => s.answers.figures?.post);
  const requirements = useStore((s) => s.design.requirements);
  const own = branch.regulator ?? usualRegulator(output);
  const field = (key: string, label: string) => (
    <Row label={label}>
      <QuantityField path={`branches.${id}.regulator.${key}`} />
    </Row>
  );
  const asked = (key: 'headroom' | 'postRipple') => (
    <button type="button" className={frame.link} aria-pressed={requirements[key].on} onClick={() => actions.edit({ [`requirements.${key}.on`]: !requirements[key].on })}>
      {requirements[key].on ? 'asked' : 'ask'}
    </button>
  );
  return (
    <div style={columns}>
      {field('voltage', 'makes')}
      {field('dropout', 'dropout')}
      {field('groundCurrent', 'takes for itself')}
      {field('noise', 'noise, rms')}
      {field('thermalResistance', 'junction to air')}
      {field('maxJunction', 'junction rating')}
      {post && (
        <>
          <Row label="headroom over its dropout">
            <span className={`mono ${post.headroom < 0 ? css.fails : ''}`}>{print(post.headroom, 'V', 3)}</span> {asked('headroom')}
          </Row>
          <Row label="ripple behind it">
            <span className="mono">{print(post.ripple, 'V', 3)} pp</span> {asked('postRipple')}
          </Row>
          <Row label="burns">
            <span className="mono">{print(post.watts, 'W', 3)}</span>
          </Row>
          <Row label="junction">
            <span className={`mono ${post.junction > post.maxJunction ? css.fails : ''}`}>{print(post.junction, '°C')}</span>
          </Row>
        </>
      )}
      <TableField label="its rejection over the frequency" title="Frequency and dB, a row each" table={own.rejection} take={(rejection) => actions.edit({ [`branches.${id}.regulator`]: { ...own, rejection } })} />
    </div>
  );
}

/** Two readings of a ringing, without and with a known capacitor, give what rings. */
function Ringing({ id, branch }: { id: string; branch: Branch }) {
  const [typed, setTyped] = useState({ bare: '', added: '', slower: '' });
  const read = (key: keyof typeof typed, unit: UnitName): number | undefined => {
    const found = parseQuantity(typed[key], unit, key);
    return found.ok ? found.value : undefined;
  };
  const [bare, added, slower] = [read('bare', 'Hz'), read('added', 'F'), read('slower', 'Hz')];
  const all = bare !== undefined && added !== undefined && slower !== undefined;
  const found = all ? ringingFrom(bare, added, slower) : undefined;
  const input = (key: keyof typeof typed, label: string, hint: string) => (
    <label className={frame.row}>
      <span className="muted">{label}</span>
      <input className={css.search} style={{ width: 96 }} placeholder={hint} value={typed[key]} onChange={(e) => setTyped({ ...typed, [key]: e.target.value })} />
    </label>
  );
  return (
    <div style={columns}>
      {input('bare', 'rings at', '42 MHz')}
      {input('added', 'with this beside the part', '1 nF')}
      {input('slower', 'at', '21 MHz')}
      <Row label="so there ring">
        {found ? (
          <>
            <span className="mono">
              {print(found.stray, 'H', 3)}, {print(found.parasitic, 'F', 3)}
            </span>{' '}
            <button type="button" className={frame.chip} style={{ padding: '1px 8px' }} onClick={() => actions.edit({ [`branches.${id}.stray`]: Number(found.stray.toPrecision(4)), [`branches.${id}.parasitic`]: Number(found.parasitic.toPrecision(4)) })}>
              size by it
            </button>
          </>
        ) : (
          <span className="muted">{all ? 'the capacitor does not slow it: read again' : branch.parasitic ? `${print(branch.parasitic, 'F', 3)}, as measured` : 'the part’s own, until measured'}</span>
        )}
      </Row>
    </div>
  );
}
