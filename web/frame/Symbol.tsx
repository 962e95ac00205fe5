import { SYMBOLS, type DrawnSymbol, type Stroke } from '../../core/topology';

/** A symbol of the power path; the wire behind is covered by its own ground. */
export function Symbol({ kind, selected }: { kind: DrawnSymbol['symbol']; selected: boolean }) {
  const ink = selected ? 'var(--spruce)' : 'var(--ink)';
  const ground = selected ? 'var(--spruce-wash)' : 'var(--card)';
  return (
    <g stroke={ink} strokeWidth={2} fill="none" strokeLinecap="round">
      {SYMBOLS[kind].map((s, k) => (
        <Drawn key={k} stroke={s} ground={ground} drawn={!s.covers || s.outline === 'always' || (s.outline === 'chosen' && selected)} />
      ))}
    </g>
  );
}

function Drawn({ stroke: { path, rect, circle, covers, outline, width, mirrored, butt }, ground, drawn }: { stroke: Stroke; ground: string; drawn: boolean }) {
  const look = { ...(covers ? { fill: ground } : {}), ...(drawn ? {} : { stroke: 'none' }), ...(width === undefined ? {} : { strokeWidth: width }), ...(outline === 'chosen' ? { strokeWidth: 1 } : {}), ...(butt ? { strokeLinecap: 'butt' as const } : {}), ...(mirrored ? { transform: 'scale(-1 1)' } : {}) };
  if (rect) return <rect x={rect[0]} y={rect[1]} width={rect[2]} height={rect[3]} rx={rect[4]} {...look} />;
  return circle === undefined ? <path d={path} strokeLinejoin={covers ? 'round' : undefined} {...look} /> : <circle r={circle} {...look} />;
}
