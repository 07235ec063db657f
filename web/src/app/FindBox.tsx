import { useEffect, useState } from 'react';
import { useLocation, useNavigate } from 'react-router';
import { useListState } from '../pieces/useListState';
import { focusList } from './keys';
import styles from './shell.module.css';

/** Searches the list of the screen. */
export function FindBox({ input }: { input: React.RefObject<HTMLInputElement | null> }) {
  const list = useListState();
  const { pathname } = useLocation();
  const navigate = useNavigate();
  const given = list.text('search') ?? '';
  const [text, setText] = useState(given);
  const [shown, setShown] = useState(given);
  if (shown !== given) {
    setShown(given);
    setText(given);
  }
  useEffect(() => {
    if (text === given) return;
    const timer = setTimeout(() => list.set({ search: text || undefined }), 200);
    return () => clearTimeout(timer);
  });
  if (pathname === '/') return null;
  const which = (phrase: string) => void navigate(`/page-map?phrase=${encodeURIComponent(phrase)}`);
  return (
    <label className={styles.find}>
      <input
        ref={input}
        aria-label="Search this list"
        placeholder="Search this list"
        value={text}
        onChange={(event) => setText(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === 'Enter' && event.altKey && text.trim().length > 2) which(text.trim());
          else if (event.key === 'Enter') focusList();
        }}
      />
      {text.trim().length > 2 ? (
        <button
          type="button"
          className={styles.which}
          title="Which of our pages is this phrase for? Alt+Enter"
          onClick={() => which(text.trim())}
        >
          which page?
        </button>
      ) : (
        <kbd>/</kbd>
      )}
    </label>
  );
}
