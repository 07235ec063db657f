import { hierarchy, treemap, treemapSquarify } from 'd3-hierarchy';
import { useEffect, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import type { Schema } from '../api/client';
import { number } from '../pieces/format';
import styles from './overview.module.css';

type Plot = Schema['PlotView'];
type Node = { plot?: Plot; topic?: { id: number; name: string }; children?: Node[] };

/** Height of a topic's name. */
const topicLine = 19;

/** Clusters under their topics; a topic of one cluster needs no name of its own. */
function byTopic(plots: readonly Plot[]): Node {
  const topics = new Map<number | string, Plot[]>();
  for (const plot of plots) {
    const key = plot.topicId ?? `cluster ${plot.id}`;
    topics.set(key, [...(topics.get(key) ?? []), plot]);
  }
  return {
    children: [...topics.values()].map((of) =>
      of.length === 1
        ? { plot: of[0]! }
        : { topic: { id: of[0]!.topicId!, name: of[0]!.topicName! }, children: of.map((plot) => ({ plot })) },
    ),
  };
}

/** A treemap of topics and clusters by demand: filled, hatched, split or empty says covered, planned, contested or uncovered. */
export function PlotMap({ plots }: { plots: Plot[] }) {
  const frame = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 800, height: 560 });
  const navigate = useNavigate();
  useEffect(() => {
    const watch = new ResizeObserver(([entry]) => {
      if (entry) setSize({ width: entry.contentRect.width, height: entry.contentRect.height });
    });
    if (frame.current) watch.observe(frame.current);
    return () => watch.disconnect();
  }, []);
  const root = hierarchy<Node>(byTopic(plots))
    .sum((node) => node.plot?.demand ?? 0)
    .sort((a, b) => (b.value ?? 0) - (a.value ?? 0));
  const map = treemap<Node>()
    .tile(treemapSquarify.ratio(1.4))
    .size([size.width, size.height])
    .paddingInner(2)
    .paddingTop((node) => (node.data.topic ? topicLine : 0))
    .round(true)(root);
  const topics = map.descendants().filter((node) => node.data.topic);
  const tiles = map.leaves();
  return (
    <div ref={frame} className={styles.plots} role="list" aria-label="Plot map of topics and clusters by demand">
      {topics.map((node) => (
        <div key={`topic ${node.data.topic!.id}`} role="listitem">
          <Link
            className={styles.topic}
            style={{ left: node.x0, top: node.y0, width: node.x1 - node.x0, height: topicLine }}
            to={`/clusters?view=topics&topic=${node.data.topic!.id}`}
            title={`Topic ${node.data.topic!.name}, demand ${number(node.value ?? 0)} a month among the clusters drawn`}
          >
            {node.x1 - node.x0 > 40 && node.data.topic!.name}
          </Link>
        </div>
      ))}
      {tiles.map((tile) => {
        const plot = tile.data.plot!;
        const [width, height] = [tile.x1 - tile.x0, tile.y1 - tile.y0];
        const says = `${plot.name}, demand ${number(plot.demand)} a month, ${plot.mark}${plot.pageUrl ? `, ${plot.pageUrl}` : ''}`;
        return (
          <div key={plot.id} role="listitem">
            <button
              className={`${styles.plot} ${styles[plot.mark]}`}
              style={{ left: tile.x0, top: tile.y0, width, height, paddingInline: width < 72 ? 3 : undefined }}
              title={says}
              aria-label={says}
              onClick={() => void navigate(`/clusters?id=${plot.id}`)}
            >
              {(width > 58 ? height > 24 : width > 42 && height > 60) && (
                <b
                  style={{
                    fontSize: width < 72 ? 12 : 13,
                    WebkitLineClamp: Math.max(1, Math.floor((height - (height > 60 ? 26 : 8)) / 17)),
                  }}
                >
                  {plot.name}
                </b>
              )}
              {width > 42 && height > 60 && <span>{number(plot.demand)}</span>}
            </button>
          </div>
        );
      })}
    </div>
  );
}
