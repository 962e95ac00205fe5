import type { StageId } from '../stages/list';

/** What is said to those who are here for the first time, stage by stage, and what the words mean. */

/** Of each stage: what it answers, and what can be done there. */
export const STAGE_HELP: Record<StageId, { asks: string; does: string }> = {
  brief: { asks: 'What must it do?', does: 'Line, output, load, air and what is required of them. Every figure with dots under it is changed where it stands; units may be typed.' },
  'power-stage': { asks: 'What is it made of?', does: 'Topologies held against the brief, parts of the shelf, windings, switching frequency. A part on the drawing opens at the right.' },
  waveforms: { asks: 'What does it do within a period, and over time?', does: 'The settled cycle, exactly; runs through steps, start-up and faults; sweeps; the mains with its harmonics; conducted noise. Captures of a bench may be laid over.' },
  loop: { asks: 'Does it hold its output, and how well?', does: 'Gain and phase, margins, the answer to steps. Zeros and poles are dragged on the plot or typed. What stands before the line is held against the converter there too.' },
  losses: { asks: 'Where do the watts go?', does: 'By part and mechanism, over load and line, beside kept states. Every figure shows its working when it is clicked.' },
  heat: { asks: 'How warm does it get?', does: 'Temperatures with losses and resistances solved together, by time, under load profiles, in other air.' },
  corners: { asks: 'Does it hold everywhere, with every part?', does: 'Corners and the region between them, parts as they come, worst cases, a search for values that hold, and faults.' },
  report: { asks: 'How is it handed over?', does: 'All of it as one page, as HTML, Markdown, CSV and a netlist.' },
};

/** A step of the tour: the stage it stands on, what is looked at (by its place in the page), and what is said. */
export interface TourStep {
  stage: StageId;
  at: string;
  title: string;
  text: string;
}

/** Two minutes on the demo. */
export const TOUR: readonly TourStep[] = [
  { stage: 'power-stage', at: '[data-testid=brief-line]', title: 'The brief is a sentence', text: 'What has a dotted line is changed where it stands: click, type with a unit, Enter. Everything on screen follows.' },
  { stage: 'power-stage', at: 'nav[aria-label=Stages]', title: 'Eight stages, each with its reed', text: 'A reed stands upright where there is room, leans where it is tight, and breaks where a requirement fails. Below: line × load. Drag the dot, and every stage shows that point.' },
  { stage: 'power-stage', at: '[aria-label="Power path"]', title: 'The power path', text: 'The converter from line to load, painted by current, heat or stress. A part opens at the right: another of the shelf, other values, why each is what it is.' },
  { stage: 'loop', at: '[aria-label=Stage]', title: 'The loop', text: 'The exact response of the switching circuit. Drag a zero or a pole, or type it; the step below answers at once.' },
  { stage: 'corners', at: '[aria-label=Stage]', title: 'Every corner, and between', text: 'The tightest requirement stands first. Below the corners: what moves it, with a cure to try. Search finds values that hold; Spread draws parts as they come.' },
  { stage: 'corners', at: 'footer', title: 'Keep a state', text: 'K keeps what is there: its curves stay on every plot while you change the design. Its table shows all that differs; any choice can be taken from it. Undo goes back as far as you like.' },
  { stage: 'report', at: '[aria-label=Stage]', title: 'Hand it over', text: 'One page with the verdict and its reasons, as a file that opens anywhere. Now make a design of your own: New design, above. "?" has help, keys and words.' },
];

/** Words of the trade as they are meant here. */
export const GLOSSARY: readonly (readonly [word: string, meaning: string])[] = [
  ['air', 'the temperature around the converter, that heat goes to in the end'],
  ['blanking', 'the time after an edge in which a sensed current is not looked at'],
  ['bode plot', 'gain in dB and phase in degrees over frequency'],
  ['boost (of phase)', 'the lead a compensator gives at the crossover against a plain integrator'],
  ['common mode', 'noise that both lines carry alike, and that comes back over the earth'],
  ['continuous conduction', 'the current of the main inductor never rests at zero within a period'],
  ['corner', 'a pair of line and load at the ends or the middle of their ranges'],
  ['crossover', 'the frequency at which the loop gain passes one (0 dB)'],
  ['dead time', 'the time in which neither switch of a leg is told to be on'],
  ['delay margin', 'the extra delay in the loop at which it would oscillate'],
  ['deviation', 'how far the output leaves its value after a step of load or line'],
  ['differential mode', 'noise that goes in by one line and out by the other'],
  ['discontinuous conduction', 'the current of the main inductor rests at zero for a part of the period'],
  ['displacement factor', 'the cosine of the angle between the mains and the fundamental of what is drawn'],
  ['distortion', 'what is drawn from the mains besides its fundamental, as a share of that'],
  ['dropout', 'the least voltage that a linear regulator needs across itself'],
  ['duty', 'the share of the period in which the main switch is on'],
  ['front', 'designs none of which is beaten by another in all that is aimed at'],
  ['gain margin', 'by how much the loop gain may rise before the loop oscillates'],
  ['hold-up', 'how long the output stays where it is wanted once the mains is gone'],
  ['kept state', 'an earlier design whose curves stay on the plots beside the one in work'],
  ['leakage inductance', 'the part of a winding’s inductance that no other winding sees'],
  ['line', 'what feeds the converter: a dc voltage, or the ac mains'],
  ['loop gain', 'what a small signal comes back as after it went once round the loop'],
  ['multiplier', 'what a small disturbance has become after one period; above one in size it grows'],
  ['netlist', 'a circuit as text, a line an element, as circuit simulators read it'],
  ['output impedance', 'volts that the output moves by per ampere drawn, over frequency'],
  ['overlap', 'the loss while a switch carries current and blocks voltage at the same time'],
  ['phase margin', 'the phase that is left at the crossover before the loop oscillates'],
  ['plant', 'all of the loop but the compensator'],
  ['power factor', 'watts drawn from the mains over volts times amperes'],
  ['preferred numbers', 'the values that parts are made in: E12, E24, E96 of IEC 60063'],
  ['recovery', 'the charge a diode gives back when it turns off, and the loss of it'],
  ['reed', 'the mark beside a stage: upright with room, leaning where it is tight, broken where it fails'],
  ['region', 'all of line, load and air that the brief allows, not only its corners'],
  ['right-half-plane zero', 'a zero at which phase falls while gain rises; a crossover has to stay well below it'],
  ['ripple', 'what a voltage or current swings by within a period, peak to peak'],
  ['room', 'how far a requirement is from its limit, as a share of it'],
  ['settled cycle', 'the period that repeats itself exactly, once everything has come to rest'],
  ['skin depth', 'the depth to which alternating current fills a conductor'],
  ['slope compensation', 'a ramp added to a sensed current so that the period does not double'],
  ['spread', 'what figures come to with parts drawn within their tolerances'],
  ['stress', 'what a part carries or blocks, against what it is rated for'],
  ['tolerance', 'how far a part may be from its value'],
  ['working', 'the formula, the numbers and the source behind a figure'],
  ['worst case', 'a requirement with every value at the end of its tolerance that is worst for it'],
  ['yield', 'the share of drawn designs that hold every requirement'],
];
