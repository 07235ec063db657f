import type { Schema } from '../api/client';
import { counted } from '../pieces/format';
import ui from '../pieces/ui.module.css';
import styles from './clusters.module.css';

/** The nearer the top, the deeper the jade. */
const shade = (position: number) =>
  position === 0 ? '' : position <= 2 ? styles.r1 : position <= 4 ? styles.r2 : position <= 7 ? styles.r3 : styles.r4;

/** Why a cluster belongs together: a row for each URL, a column for each keyword, the position in the cell. */
export function ResultGrid({ grid }: { grid: Schema['GridView'] }) {
  return (
    <>
      <div className={ui.scroll} tabIndex={0} role="region" aria-label="Result grid">
        <table className={styles.results}>
          <thead>
            <tr>
              <th>positions of shared results</th>
              {grid.columns.map((column) => (
                <th key={column.keywordId} title={column.phrase}>
                  <span>{column.phrase}</span>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {grid.rows.map((row) => (
              <tr key={row.url} className={row.isOwn ? styles.own : undefined}>
                <td
                  className={`${styles.u} ${ui.cut}`}
                  title={`${row.url}, in ${counted(row.shared, 'list')}${row.isOwn ? ', own page' : ''}`}
                >
                  {row.url}
                </td>
                {row.positions.map((position, i) => (
                  <td key={grid.columns[i]!.keywordId} className={shade(position)}>
                    {position || ''}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {(grid.hiddenColumns > 0 || grid.hiddenRows > 0) && (
        <p className={ui.quiet}>
          Not shown:{' '}
          {[
            grid.hiddenColumns > 0 && counted(grid.hiddenColumns, 'less searched keyword'),
            grid.hiddenRows > 0 && counted(grid.hiddenRows, 'less shared result'),
          ]
            .filter(Boolean)
            .join(', ')}
          .
        </p>
      )}
    </>
  );
}
