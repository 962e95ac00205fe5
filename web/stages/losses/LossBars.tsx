'use client';
import { scaleLinear } from 'd3';
import type { PartLoss } from '../../../core/evaluation';
import { MECHANISMS } from '../../../core/loss';
import { printQuantity as print } from '../../../core/quantity';
import { useSize } from '../../plots/useSize';
import plots from '../../plots/plots.module.css';

const ROW = 34;
/** Height of the outline of a kept state */
const THIN = 7;
const LEFT = 52;
const RIGHT = 150;
/** From the darkest for what the current does to the lightest for what is there at no load. */
const SHADES = [0.95, 0.75, 0.58, 0.44, 0.32, 0.22];
const ALL = Object.values(MECHANISMS).flat();
const TITLE = new Map<string, string>(ALL.map((m) => [m.id, m.title]));
const SHORT = new Map<string, string>(ALL.flatMap((m) => ('short' in m && m.short ? [[m.id, m.short] as const] : [])));

/** " +34.0 mW" to what the same part lost before. */
function difference(p: Pick<PartLoss, 'id' | 'total'>, before: readonly Pick<PartLoss, 'id' | 'total'>[]): string {
  const then = before.find((o) => o.id === p.id);
  if (!then || Math.abs(p.total - then.total) < 1e-3 * Math.max(p.total, then.total)) return '';
  return ` ${p.total > then.total ? '+' : '−'}${print(Math.abs(p.total - then.total), 'W')}`;
}

/** One bar a part, pieces by mechanism named in place where they have the room; click one for its working. */
/**
 * With kept states an outline a part below its bar: what it lost there, and the difference to the first of them.
 */
export function LossBars({ parts, chosen, onChoose, kept = [] }: { kept?: readonly { label: string; colour: string; parts: readonly Pick<PartLoss, 'id' | 'total'>[] }[]; parts: readonly Pick<PartLoss, 'id' | 'mechanisms' | 'total'>[]; chosen: string | undefined; onChoose: (id: string | undefined) => void }) {
  const [box, { width }] = useSize<HTMLDivElement>();
  const most = Math.max(1e-9, ...[...parts, ...kept.flatMap((k) => k.parts)].map((p) => p.total));
  const row0 = ROW + THIN * kept.length;
  const x = scaleLinear([0, most], [0, Math.max(60, width - LEFT - RIGHT)]);
  return (
    <div ref={box} style={{ flex: 'none' }}>
      {width > 0 && (
        <svg width={width} height={parts.length * row0} role="group" aria-label="Losses by part and mechanism">
          {parts.map((p, row) => {
            let at = 0;
            return (
              <g key={p.id} transform={`translate(0 ${row * row0})`}>
                <text x={0} y={19} className={plots.label} fontWeight={650} fill="var(--ink)">
                  {p.id}
                </text>
                {Object.entries(p.mechanisms)
                  .filter(([, watts]) => watts > 0)
                  .map(([id, watts], i) => {
                    const left = LEFT + x(at);
                    const w = x(watts);
                    at += watts;
                    const title = TITLE.get(id) ?? id;
                    // Where the whole name has no room, one word may.
                    const label = w > title.length * 6.2 + 8 ? title : (SHORT.get(id) ?? title.split(' ')[0]!);
                    const key = `${p.id}/${id}`;
                    return (
                      <g
                        key={id}
                        role="button"
                        tabIndex={0}
                        aria-label={`${p.id} ${title} ${print(watts, 'W')}`}
                        style={{ cursor: 'pointer' }}
                        onClick={() => onChoose(chosen === key ? undefined : key)}
                        onKeyDown={(e) => e.key === 'Enter' && onChoose(chosen === key ? undefined : key)}
                      >
                        <title>{`${title} ${print(watts, 'W')}`}</title>
                        <rect x={left} y={5} width={Math.max(1, w - 1)} height={22} rx={2} fill="var(--rust)" fillOpacity={SHADES[i % SHADES.length]} stroke={chosen === key ? 'var(--ink)' : 'none'} strokeWidth={2} />
                        {w > label.length * 6.2 + 8 && (
                          <text x={left + 5} y={20} className={plots.label} fill={SHADES[i]! > 0.6 ? 'var(--card)' : 'var(--ink)'} pointerEvents="none">
                            {label}
                          </text>
                        )}
                      </g>
                    );
                  })}
                <text x={LEFT + x(p.total) + 7} y={20} className={plots.mono} fill="var(--ink)">
                  {print(p.total, 'W')}
                  {kept[0] && difference(p, kept[0].parts)}
                </text>
                {kept.map((k, i) => {
                  const then = k.parts.find((o) => o.id === p.id);
                  return then && <rect key={k.label} x={LEFT} y={29 + THIN * i} width={Math.max(1, x(then.total) - 1)} height={THIN - 2} rx={1} fill="none" stroke={k.colour} strokeWidth={1.3} />;
                })}
              </g>
            );
          })}
        </svg>
      )}
    </div>
  );
}
