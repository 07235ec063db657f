import { LinkOutlined } from '@ant-design/icons';
import { useLocation } from 'react-router';
import { fileUrl } from '../api/base';
import { tell } from '../app/lastAction';
import styles from './stage.module.css';

/** More picked rows than this make a longer address than some programs take. */
const mostPicked = 200;

/** Copies the address of what is shown, with what is selected and picked. */
export function CopyLink({ picked }: { picked?: ReadonlySet<string | number> }) {
  const { pathname, search } = useLocation();
  const copy = async () => {
    const params = new URLSearchParams(search);
    params.delete('picked');
    if (picked && picked.size > 0 && picked.size <= mostPicked) params.set('picked', [...picked].join(','));
    const text = params.toString();
    const address = `${location.origin}${fileUrl(pathname)}${text ? `?${text}` : ''}`;
    const isAll = !picked || picked.size <= mostPicked;
    try {
      await navigator.clipboard.writeText(address);
      tell({
        text: isAll
          ? 'Link copied.'
          : `Link copied, without the ${picked.size} picked rows: a link holds ${mostPicked}.`,
        isError: false,
      });
    } catch {
      tell({ text: 'The browser does not allow copying. Copy the address from its address bar.', isError: true });
    }
  };
  return (
    <button
      type="button"
      className={styles.copy}
      aria-label="Copy link"
      title="Copy a link to what is shown and selected"
      onClick={() => void copy()}
    >
      <LinkOutlined /> Copy link
    </button>
  );
}
