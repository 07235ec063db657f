import { Splitter } from 'antd';
import { useState, type ReactNode } from 'react';

const stored = 'jade-orchard.pane';

/** A stage: the work at the left, the evidence pane docked at the right, the tally bar below. */
export function Stage({ work, pane, tally }: { work: ReactNode; pane: ReactNode; tally: ReactNode }) {
  const [width, setWidth] = useState(() => Number(localStorage.getItem(stored)) || 424);
  return (
    <main className="stage">
      <Splitter
        onResize={(sizes) => setWidth(sizes[1] ?? width)}
        onResizeEnd={(sizes) => localStorage.setItem(stored, String(Math.round(sizes[1] ?? width)))}
      >
        <Splitter.Panel min={480}>
          <div className="work">{work}</div>
        </Splitter.Panel>
        <Splitter.Panel size={width} min={300} max={900} collapsible={{ end: true, showCollapsibleIcon: 'auto' }}>
          {/* The pane scrolls, so it can be reached by keys. */}
          <aside className="pane" aria-label="Evidence" tabIndex={0}>
            {pane}
          </aside>
        </Splitter.Panel>
      </Splitter>
      <div className="tally" aria-label="Tally" role="status">
        {tally}
      </div>
    </main>
  );
}
