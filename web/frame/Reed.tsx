/**
 * A reed: straight while there is room, leaning as it shrinks, broken when a requirement fails.
 * Shape says it, colour repeats it.
 * @param room 0 at the limit to 1; negative: fails; undefined: nothing is asked
 */
export function Reed({ room, height = 30 }: { room: number | undefined; height?: number }) {
  const stroke = { strokeWidth: 4, strokeLinecap: 'round' as const, fill: 'none' };
  const title = room === undefined ? 'nothing is asked here' : room < 0 ? 'a requirement fails' : room < 0.12 ? 'little room' : 'has room';
  const lean = room === undefined ? 0 : 7 * (1 - Math.min(1, Math.max(0, room) / 0.5));
  return (
    <svg width="18" height={height} viewBox="0 0 18 30" role="img" aria-label={title}>
      {room !== undefined && room < 0 ? (
        <g stroke="var(--fail)" {...stroke}>
          <path d="M5 28L5.4 17" />
          <path d="M8.5 12.5Q10 6 14 2" />
        </g>
      ) : (
        <path
          d={`M5 28Q5 ${14 - lean / 2} ${5 + lean} 2`}
          stroke={room !== undefined && room < 0.12 ? 'var(--ochre)' : 'var(--spruce)'}
          opacity={room === undefined ? 0.35 : 1}
          {...stroke}
        />
      )}
    </svg>
  );
}
