import { Splitter } from 'antd';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import { useSearchParams } from 'react-router';
import { focusList } from '../app/keys';
import { useIsNarrow } from '../app/preferences';
import { CopyLink } from './CopyLink';
import { LastActionLine } from './LastActionLine';
import styles from './stage.module.css';

const stored = 'jade-orchard.pane';

/**
 * A stage: the work at the left, the evidence pane docked at the right, the tally bar below. In a narrow window, or
 * zoomed in, the pane is below the work.
 */
export function Stage({
  work,
  pane,
  tally,
  picked,
}: {
  work: ReactNode;
  pane: ReactNode;
  tally: ReactNode;
  /** Rows that are picked, for the link to them. */
  picked?: ReadonlySet<string | number>;
}) {
  const [width, setWidth] = useState(() => Number(localStorage.getItem(stored)) || 424);
  const isNarrow = useIsNarrow();
  const evidence = useRef<HTMLElement>(null);
  const opened = useSearchParams()[0].get('pane');
  const before = useRef<string | null>(null);
  // The keys follow what is opened, and return to the list when it is closed.
  useEffect(() => {
    if (opened) evidence.current?.focus();
    else if (before.current) focusList();
    before.current = opened;
  }, [opened]);
  return (
    <main className={styles.stage}>
      <Splitter
        key={isNarrow ? 'narrow' : 'wide'}
        orientation={isNarrow ? 'vertical' : 'horizontal'}
        onResize={(sizes) => !isNarrow && setWidth(sizes[1] ?? width)}
        onResizeEnd={(sizes) => !isNarrow && localStorage.setItem(stored, String(Math.round(sizes[1] ?? width)))}
      >
        <Splitter.Panel min={isNarrow ? 160 : 480}>
          <div className={styles.work}>{work}</div>
        </Splitter.Panel>
        <Splitter.Panel
          {...(isNarrow ? { defaultSize: '42%', min: 80 } : { size: width, min: 300, max: 900 })}
          collapsible={{ end: true, showCollapsibleIcon: 'auto' }}
        >
          {/* The pane scrolls, so it can be reached by keys. */}
          <aside ref={evidence} className={styles.pane} aria-label="Evidence" tabIndex={0}>
            {pane}
          </aside>
        </Splitter.Panel>
      </Splitter>
      <div className={styles.tally} aria-label="Tally" role="group">
        <div className={styles.counts} role="status">
          {tally}
        </div>
        <LastActionLine />
        <CopyLink picked={picked} />
      </div>
    </main>
  );
}
