'use client';
import { REQUIREMENTS } from '../../../core/corners/requirements';
import { topologyOf, type Design } from '../../../core/design';
import type { Figures } from '../../../core/evaluation';
import { padResistance, type Pad, type Sink } from '../../../core/parts/goods';
import type { SwitchPart } from '../../../core/parts/schema';
import { resistanceOfSink, sinkNode, sinksOf, sinkWanted } from '../../../core/thermal/cooling';
import { hottestOf } from '../../../core/thermal/network';
import { printQuantity as print } from '../../../core/quantity';
import frame from '../../frame/frame.module.css';
import { QuantityField } from '../../frame/QuantityField';
import { useGoods } from '../../state/shelf';
import { actions, useStore } from '../../state/store';

/** m² of copper that a part gets when it is first put on its board */
const BOARD = 6e-4;

/** What parts stand on: sinks with the air along them, or the copper of the board; and the sink that would do. */
export function CoolingPanel() {
  const design = useStore((s) => s.design);
  const figures = useStore((s) => s.answers.figures)!;
  const slots = topologyOf(design)!.slots.filter((p) => p.kind === 'switch' || p.kind === 'diode');
  const sinks = sinksOf(design);
  const used = new Set(slots.filter((p) => design.cooling?.[p.id]?.board === undefined).map((p) => design.cooling?.[p.id]?.sink ?? 1));
  const place = (slot: string, chosen: string): void => {
    const { [slot]: _, ...rest } = design.cooling ?? {};
    const next = chosen === 'sink 1' ? rest : { ...rest, [slot]: chosen === 'board' ? { board: BOARD } : { sink: Number(chosen.slice(5)) } };
    actions.edit({
      cooling: Object.keys(next).length > 0 ? next : undefined,
      // A further sink is there once something stands on it.
      ...(chosen === `sink ${sinks.length + 1}` ? { sinks: [...(design.sinks ?? []), { thermalResistance: design.sink.thermalResistance }] } : {}),
    });
  };
  return (
    <div data-testid="cooling">
      {sinks.map((sink, i) =>
        i === 0 || used.has(i + 1) ? (
          <div key={i}>
            <h3>{i === 0 ? 'Sink' : `Sink ${i + 1}`}</h3>
            <div className={frame.row}>
              <span>in still air</span>
              <QuantityField path={i === 0 ? 'sink.thermalResistance' : `sinks.${i - 1}.thermalResistance`} label={i === 0 ? 'sink to air' : `sink ${i + 1} to air`} />
            </div>
            <div className={frame.row}>
              <span>air along it</span>
              <span>
                {sink.airFlow === undefined ? (
                  <button type="button" className={frame.link} onClick={() => actions.edit({ [i === 0 ? 'sink.airFlow' : `sinks.${i - 1}.airFlow`]: 1 })}>
                    still
                  </button>
                ) : (
                  <>
                    <QuantityField path={i === 0 ? 'sink.airFlow' : `sinks.${i - 1}.airFlow`} label={`sink ${i + 1} air`} />
                    <span className="muted mono"> → {print(resistanceOfSink(sink), 'K/W', 2)}</span>
                  </>
                )}
              </span>
            </div>
            <Wanted design={design} figures={figures} number={i + 1} />
          </div>
        ) : null,
      )}
      <h3>What stands where</h3>
      {slots.map((p) => {
        const at = design.cooling?.[p.id];
        return (
          <div key={p.id}>
          <div className={frame.row}>
            <span>{p.id}</span>
            <span>
              {at?.board !== undefined && <QuantityField path={`cooling.${p.id}.board`} label={`${p.id} copper of its board`} />}{' '}
              <select className={frame.select} aria-label={`${p.id} stands on`} value={at?.board !== undefined ? 'board' : `sink ${at?.sink ?? 1}`} onChange={(e) => place(p.id, e.target.value)}>
                {sinks.map((_, i) => (
                  <option key={i} value={`sink ${i + 1}`}>
                    {i === 0 ? 'the sink' : `sink ${i + 1}`}
                  </option>
                ))}
                {sinks.length < 4 && <option value={`sink ${sinks.length + 1}`}>a sink of its own</option>}
                <option value="board">its board</option>
              </select>
            </span>
          </div>
          {at?.board === undefined && <Between slot={p.id} part={design.parts[p.id] as SwitchPart} />}
          </div>
        );
      })}
    </div>
  );
}

/** What stands between a case and its sink: so many K/W, or a pad of the shelf under its area. */
function Between({ slot, part }: { slot: string; part: Pick<SwitchPart, 'caseToSink' | 'caseArea'> }) {
  const pads = useGoods().filter((g): g is Pad => g.kind === 'pad');
  const area = part.caseArea ?? CASE;
  const same = pads.find((g) => Math.abs(padResistance(g, area) / part.caseToSink - 1) < 1e-3);
  const take = (pad: Pad | undefined): void => void (pad && actions.edit({ [`parts.${slot}.caseToSink`]: Number(padResistance(pad, area).toPrecision(4)), [`parts.${slot}.caseArea`]: area }));
  return (
    <div className={frame.row} style={{ paddingLeft: 12 }}>
      <span>case to it</span>
      <span>
        <QuantityField path={`parts.${slot}.caseToSink`} label={`${slot} case to sink`} />{' '}
        <select className={frame.select} style={{ maxWidth: 96 }} aria-label={`${slot} pad`} title={`under ${print(area, 'm²', 2)}`} value={same?.part ?? ''} onChange={(e) => take(pads.find((g) => g.part === e.target.value))}>
          <option value="">as stated</option>
          {pads.map((g) => (
            <option key={g.part} value={g.part}>
              {g.part}
            </option>
          ))}
        </select>
      </span>
    </div>
  );
}

/** m² of a case where nobody says */
const CASE = 1.5e-4;

/** The sink that would keep all on it below what they may reach at this point, and one of the shelf. */
function Wanted({ design, figures, number }: { design: Design; figures: Figures; number: number }) {
  const goods = useGoods();
  const { rungs } = figures.heat;
  const own = rungs.find((r) => r.id === sinkNode(number));
  if (!own || !(own.heat > 0)) return null;
  const standing = rungs.filter((r) => r.spot === 'junction' && rungs.find((c) => c.id === `${r.slot} case`)?.towards === own.id);
  const { limit } = design.requirements[REQUIREMENTS.find((r) => r.id === 'junction')!.id];
  const wanted = sinkWanted(standing.map((r) => ({ limit: Math.min(limit, r.limit!), above: hottestOf(r) - own.temperature })), own.heat, figures.point.air);
  if (!(wanted > 0)) return <p className="muted" style={{ margin: '2px 0' }}>No sink keeps them below {print(limit, '°C')} here.</p>;
  const sink = sinksOf(design)[number - 1]!;
  const factor = resistanceOfSink(sink) / Math.max(1e-9, sink.thermalResistance);
  const fits = goods.filter((g): g is Sink => g.kind === 'sink' && g.thermalResistance * factor <= wanted).toSorted((a, b) => b.thermalResistance - a.thermalResistance)[0];
  const path = number === 1 ? 'sink.thermalResistance' : `sinks.${number - 2}.thermalResistance`;
  return (
    <p className="muted" style={{ margin: '2px 0' }}>
      {print(wanted, 'K/W', 2)} would keep all below {print(limit, '°C')} here
      {fits && (
        <>
          :{' '}
          <button type="button" className={frame.link} onClick={() => actions.edit({ [path]: fits.thermalResistance })}>
            take {fits.part}, {print(fits.thermalResistance, 'K/W', 2)}
          </button>
        </>
      )}
    </p>
  );
}
