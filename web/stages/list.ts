/** The stages in the order of the work. */
export const STAGES = [
  { id: 'brief', title: 'Brief' },
  { id: 'power-stage', title: 'Power stage' },
  { id: 'waveforms', title: 'Waveforms' },
  { id: 'loop', title: 'Loop' },
  { id: 'losses', title: 'Losses' },
  { id: 'heat', title: 'Heat' },
  { id: 'corners', title: 'Corners' },
  { id: 'report', title: 'Report' },
] as const;

export type StageId = (typeof STAGES)[number]['id'];
