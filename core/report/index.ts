export { SECTIONS, type Block, type Report, type Section, type SectionId } from './blocks';
export { billCsv, billLines, type BillLine } from './bill';
export { hashOf, knownOf, reportOf, summaryOf, type Known } from './content';
export { cornersCsv, loopCsv, wavesCsv } from './dataCsv';
export { reportHtml } from './html';
export { reportMarkdown } from './markdown';
