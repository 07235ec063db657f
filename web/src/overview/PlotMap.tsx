import { hierarchy, treemap, treemapSquarify } from 'd3-hierarchy';
import { useEffect, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import type { Schema } from '../api/client';
import { number } from '../pieces/format';

type Plot = Schema['PlotView'];
type Node = { plot?: Plot; children?: Node[] };

/** A treemap of clusters by demand: filled, hatched, split or empty says covered, planned, contested or uncovered. */
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
  const root = hierarchy<Node>({ children: plots.map((plot) => ({ plot })) }).sum((node) => node.plot?.demand ?? 0);
  const tiles = treemap<Node>()
    .tile(treemapSquarify.ratio(1.4))
    .size([size.width, size.height])
    .paddingInner(2)
    .round(true)(root)
    .leaves();
  return (
    <div ref={frame} className="plots" role="list" aria-label="Plot map of clusters by demand">
      {tiles.map((tile) => {
        const plot = tile.data.plot!;
        const [width, height] = [tile.x1 - tile.x0, tile.y1 - tile.y0];
        const says = `${plot.name}, demand ${number(plot.demand)} a month, ${plot.mark}${plot.pageUrl ? `, ${plot.pageUrl}` : ''}`;
        return (
          <div key={plot.id} role="listitem">
            <button
              className={`plot ${plot.mark}`}
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
