import { NavLink } from 'react-router';
import type { Schema } from '../api/client';
import { stages } from './stages';

/** The stages with their counts and how far each has come. */
export function Track({ stages: views }: { stages: Schema['TrackStage'][] }) {
  return (
    <nav className="track" aria-label="Stages">
      {stages.map(({ path, title }) => {
        const view = views.find((v) => v.stage === path);
        return (
          <NavLink
            key={path}
            to={`/${path}`}
            className={({ isActive }) => `${isActive ? 'on' : ''} ${view?.warns ? 'warns' : ''}`}
          >
            <b>{title}</b>
            <i className="cut">{view?.says}</i>
            <span className="done" style={{ width: `${(view?.share ?? 0) * 100}%` }} />
          </NavLink>
        );
      })}
    </nav>
  );
}
