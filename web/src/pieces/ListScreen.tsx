import type { ReactNode } from 'react';
import { Stage } from './Stage';
import ui from './ui.module.css';

/**
 * The frame of every screen with a list: its title, views and actions, the sentence that says what is shown, the list, the
 * evidence pane, and the tally bar.
 */
export function ListScreen({
  title,
  views,
  about,
  actions,
  sentence,
  picked,
  pickedIds,
  children,
  pane,
  tally,
}: {
  title: string;
  /** Ways to look at the list, beside the title. */
  views?: ReactNode;
  /** What the list is, in a few words. */
  about?: ReactNode;
  /** Buttons; the primary one last. */
  actions?: ReactNode;
  /** What is shown, as a sentence whose parts are chosen. */
  sentence?: ReactNode;
  /** What can be done with the picked rows. */
  picked?: ReactNode;
  pickedIds?: ReadonlySet<string | number>;
  /** The list. */
  children: ReactNode;
  pane: ReactNode;
  tally: ReactNode;
}) {
  return (
    <Stage
      work={
        <>
          <div className={ui.head}>
            <h1>{title}</h1>
            {views}
            {about && <span className={`${ui.second} ${ui.cut}`}>{about}</span>}
            <span className={ui.gap} />
            {actions}
          </div>
          {sentence}
          {picked}
          {children}
        </>
      }
      pane={pane}
      tally={tally}
      picked={pickedIds}
    />
  );
}
