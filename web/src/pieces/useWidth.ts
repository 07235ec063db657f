import { useEffect, useState, type RefObject } from 'react';

/** The width of an element, in pixels, as it changes; 0 before it is known. */
export function useWidth(element: RefObject<HTMLElement | null>, isThere: boolean) {
  const [width, setWidth] = useState(0);
  useEffect(() => {
    const now = element.current;
    if (!isThere || !now || typeof ResizeObserver === 'undefined') return;
    const observer = new ResizeObserver(() => setWidth(now.clientWidth));
    observer.observe(now);
    return () => observer.disconnect();
  }, [element, isThere]);
  return width;
}
