import { useOthers } from './others';
import { useSession } from './session';
import styles from './team.module.css';
import ui from '../pieces/ui.module.css';

const whoIs = (author: string, own: string | undefined) =>
  !author ? 'In another window' : author === own ? 'You, in another window' : author;

/** Says what somebody else has just changed; what is on screen shows it already. */
export function OthersLine() {
  const others = useOthers();
  const { user } = useSession();
  const says = others && `${whoIs(others.author, user?.name)}: ${others.says}`;
  return (
    <span role="status" aria-label="Changes of others" className={`${styles.others} ${ui.cut}`} title={says}>
      {says}
    </span>
  );
}
