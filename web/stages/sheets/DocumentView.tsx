'use client';

import type { DocumentContent } from '@mesura/core/sheets/content';
import type { ReportCell } from '@mesura/core/reports/report';
import bench from '../../card/bench.module.css';

const shown = (cell: ReportCell): string => {
  const plain = typeof cell === 'object' && cell !== null ? cell.value : cell;
  return plain === null ? '' : typeof plain === 'number' ? String(Number(plain.toPrecision(4))) : plain;
};

/** A line package or an arc label on the screen: what its PDF says. */
export function DocumentView({ content: { report } }: { content: DocumentContent }) {
  return (
    <>
      {report.sections
        .filter(({ workbookOnly }) => !workbookOnly)
        .map(({ title, facts = [], text = [], table }) => (
          <section key={title}>
            <h4 className={bench.subtitle}>{title}</h4>
            {facts.length > 0 && (
              <dl
                style={{ display: 'grid', gridTemplateColumns: 'auto 1fr', gap: '2px 16px', margin: 0, fontSize: 13 }}
              >
                {facts.flatMap(([name, value]) => [
                  <dt key={name} className={bench.muted}>
                    {name}
                  </dt>,
                  <dd key={`${name} value`} style={{ margin: 0 }}>
                    {value}
                  </dd>,
                ])}
              </dl>
            )}
            {table && (
              <div style={{ overflowX: 'auto' }}>
                <table className={`${bench.table} figures`} aria-label={title}>
                  <thead>
                    <tr>
                      {table.columns.map(({ head, figure }, k) => (
                        <th key={k} className={figure ? 'number' : undefined}>
                          {head}
                        </th>
                      ))}
                    </tr>
                  </thead>
                  <tbody>
                    {table.rows.map(({ cells }, k) => (
                      <tr key={k}>
                        {cells.map((cell, j) => (
                          <td key={j} className={table.columns[j]?.figure ? 'number' : undefined}>
                            {shown(cell)}
                          </td>
                        ))}
                      </tr>
                    ))}
                  </tbody>
                </table>
              </div>
            )}
            {text.map((line, k) => (
              <p key={k} className={bench.muted}>
                {line}
              </p>
            ))}
          </section>
        ))}
    </>
  );
}
