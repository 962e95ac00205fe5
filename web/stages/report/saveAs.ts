import { designNetlist } from '../../../core/interchange/designNetlist';
import { billCsv, billLines, cornersCsv, loopCsv, reportHtml, reportMarkdown, wavesCsv, type Known, type Report } from '../../../core/report';
import { download, fileName } from '../../state/session';
import { actions } from '../../state/store';

/** What a report is handed over as. */
export const FORMS = [
  { id: 'html', title: 'HTML', says: 'One file that opens without a network and prints' },
  { id: 'markdown', title: 'Markdown', says: 'The same as text with tables' },
  { id: 'bill', title: 'Bill, CSV', says: 'The bill of materials with its stresses' },
  { id: 'waveforms', title: 'Waveforms, CSV', says: 'The settled cycle at the point in view' },
  { id: 'loop', title: 'Loop, CSV', says: 'Gain and phase at the point in view' },
  { id: 'corners', title: 'Corners, CSV', says: 'Every requirement at every corner' },
  { id: 'netlist', title: 'Netlist', says: 'The closed converter at the point in view, for circuit simulators' },
] as const;
export type Form = (typeof FORMS)[number]['id'];

/** Hand a report, or data of it, to the browser as a file. */
export function saveAs(form: Form, known: Known, shown: Report): void {
  const name = fileName(known.design.name);
  switch (form) {
    case 'html':
      return download(`${name}-report.html`, reportHtml(shown), 'text/html');
    case 'markdown':
      return download(`${name}-report.md`, reportMarkdown(shown), 'text/markdown');
    case 'bill':
      return download(`${name}-bill.csv`, billCsv(billLines(known.design, known.shelf, known.corners)), 'text/csv');
    case 'waveforms':
      return download(`${name}-waveforms.csv`, wavesCsv(known.design, known.figures), 'text/csv');
    case 'loop':
      return download(`${name}-loop.csv`, loopCsv(known.figures), 'text/csv');
    case 'corners':
      return download(`${name}-corners.csv`, cornersCsv(known.corners), 'text/csv');
    case 'netlist': {
      const { angle: _, drawn: __, ...point } = known.figures.point;
      const text = designNetlist(known.design, point);
      return text.ok ? download(`${name}.cir`, text.value, 'text/plain') : actions.refuse(text.problem);
    }
  }
}
