'use client';
import { printQuantity as print } from '../../../core/quantity';
import type { Block } from '../../../core/report';
import { barsSvg, plotSvg } from '../../../core/report/plot';
import page from './report.module.css';

/** A picture of the report, as its file has it: made by the core, with every text in it escaped. */
const Picture = ({ svg }: { svg: string }) => <div className={page.picture} dangerouslySetInnerHTML={{ __html: svg }} />;

/** One block of a report on screen. */
export function BlockView({ block }: { block: Block }) {
  switch (block.kind) {
    case 'text':
      return <p className={block.fails ? page.fails : undefined}>{block.text}</p>;
    case 'table':
      return (
        <div className={page.scroll}>
          <table className={page.table}>
            {block.head && (
              <thead>
                <tr>
                  {block.head.map((h, k) => (
                    <th key={k} className={block.numbers?.includes(k) ? page.number : undefined}>
                      {h}
                    </th>
                  ))}
                </tr>
              </thead>
            )}
            <tbody>
              {block.rows.map((r, i) => (
                <tr key={i} className={r.fails ? page.fails : undefined}>
                  {r.cells.map((c, k) => (
                    <td key={k} className={block.numbers?.includes(k) ? page.number : undefined}>
                      {c}
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      );
    case 'plot':
      return (
        <figure className={page.figure}>
          <figcaption>{block.title}</figcaption>
          <Picture svg={plotSvg(block)} />
        </figure>
      );
    case 'bars':
      return <Picture svg={barsSvg(block)} />;
    case 'drawing':
      return <Picture svg={block.svg} />;
    case 'workings':
      return block.list.map((w, k) => (
        <details key={k}>
          <summary>
            {w.title}: <b>{print(w.value, w.unit, 4)}</b>
          </summary>
          <p style={{ margin: '2px 0 6px 16px' }}>
            <code>{w.formula}</code>
            <br />
            <code>= {w.numbers}</code>
            <br />
            <small>
              {w.source}
              {w.leavesOut === '' ? '' : `; leaves out ${w.leavesOut}`}
            </small>
          </p>
        </details>
      ));
  }
}
