import { Link } from 'react-router';
import type { Schema } from '../api/client';
import { number, shortUrl } from '../pieces/format';
import { PlotMark } from '../pieces/PlotMark';
import ui from '../pieces/ui.module.css';
import styles from './overview.module.css';

/** What the plot map draws, as a table: clusters with their topics, the greatest demand first. */
export function PlotTable({ plots, host }: { plots: Schema['PlotView'][]; host?: string }) {
  return (
    <div className={`${ui.scroll} ${styles.plotTable}`}>
      <table className={ui.facts} aria-label="Clusters by demand">
        <thead>
          <tr>
            <th>Cluster</th>
            <th>Topic</th>
            <th className={ui.num}>Demand a month</th>
            <th>State</th>
            <th>Page</th>
          </tr>
        </thead>
        <tbody>
          {[...plots]
            .sort((a, b) => b.demand - a.demand)
            .map((plot) => (
              <tr key={plot.id}>
                <td>
                  <Link to={`/clusters?id=${plot.id}`}>{plot.name}</Link>
                </td>
                <td>
                  {plot.topicId !== null && (
                    <Link to={`/clusters?view=topics&topic=${plot.topicId}`}>{plot.topicName}</Link>
                  )}
                </td>
                <td className={ui.num}>{number(plot.demand)}</td>
                <td className={styles.state}>
                  <PlotMark mark={plot.mark} /> {plot.mark}
                </td>
                <td className={ui.url}>{plot.pageUrl && shortUrl(plot.pageUrl, host)}</td>
              </tr>
            ))}
        </tbody>
      </table>
    </div>
  );
}
