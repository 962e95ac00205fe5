import type { Design } from './schema';

/** °C that a junction or a winding may reach in a design: its rating, or what is required where that is asked for and less. */
export function warmestOf({ requirements }: Pick<Design, 'requirements'>, spot: 'junction' | 'winding', rating: number): number {
  const { on, limit } = requirements[spot];
  return on ? Math.min(rating, limit) : rating;
}
