import { useEffect } from 'react';
import { Link, useLocation } from 'react-router';
import { useProject, useReplay } from '../api/hooks';
import { leaveStage, tell, useLastAction } from '../app/lastAction';
import ui from './ui.module.css';
import styles from './stage.module.css';

/** What was last done with its undo, or what went wrong; in the tally bar, so that it covers nothing. */
export function LastActionLine() {
  const action = useLastAction();
  const undo = useReplay('undo');
  const next = useProject().data?.undo;
  const { pathname } = useLocation();
  useEffect(() => leaveStage, [pathname]);
  return (
    <span
      className={`${styles.last}${action?.isError ? ` ${ui.clay}` : ''}`}
      role={action?.isError ? 'alert' : 'status'}
    >
      {action && (
        <>
          <span className={ui.cut} title={action.text}>
            {action.text}
          </span>
          {action.step !== undefined && action.step === next && (
            <button className={ui.chip} disabled={undo.isPending} onClick={() => undo.mutate(undefined)}>
              Undo
            </button>
          )}
          {action.link && !pathname.startsWith(`/${action.link}`) && (
            <Link to={`/${action.link}`} onClick={() => tell(undefined)}>
              Open
            </Link>
          )}
          {(action.isError || action.link) && (
            <button
              className={`${ui.chip} ${ui.quiet}`}
              aria-label="Close this message"
              onClick={() => tell(undefined)}
            >
              ✕
            </button>
          )}
        </>
      )}
    </span>
  );
}
