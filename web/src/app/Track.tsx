import { NavLink } from 'react-router';
import type { Schema } from '../api/client';
import { stages } from './stages';
import styles from './shell.module.css';
import ui from '../pieces/ui.module.css';

/** The stages with their counts and how far each has come. */
export function Track({ stages: views }: { stages: Schema['TrackStage'][] }) {
  return (
    <nav className={styles.track} aria-label="Stages">
      {stages.map(({ path, title }) => {
        const view = views.find((v) => v.stage === path);
        return (
          <NavLink
            key={path}
            to={`/${path}`}
            className={({ isActive }) => `${isActive ? styles.on : ''} ${view?.warns ? styles.warns : ''}`}
          >
            <b>{title}</b>
            <i className={ui.cut}>{view?.says}</i>
            <span className={styles.done} style={{ width: `${(view?.share ?? 0) * 100}%` }} />
          </NavLink>
        );
      })}
    </nav>
  );
}
