import { useEffect, useRef, useState, type RefObject } from 'react';
import { useLocation } from 'react-router';

/** How far lists were scrolled, by place in the history of the browser. */
const tops = new Map<string, number>();

/** Brings a list back to where it was scrolled to when its place was left. Returns true where it had been left before. */
export function useScrollMemory(scroller: RefObject<HTMLElement | null>, name: string, isFilled: boolean) {
  const { key } = useLocation();
  const place = `${key} ${name}`;
  const [isBack] = useState(() => tops.has(place));
  const isRestored = useRef(false);
  useEffect(() => {
    if (!isFilled || !scroller.current || isRestored.current) return;
    isRestored.current = true;
    scroller.current.scrollTo({ top: tops.get(place) ?? 0 });
  }, [isFilled, place, scroller]);
  useEffect(() => {
    const list = scroller.current;
    if (!isFilled || !list) return;
    const note = () => tops.set(place, list.scrollTop);
    note();
    list.addEventListener('scroll', note, { passive: true });
    return () => list.removeEventListener('scroll', note);
  }, [isFilled, place, scroller]);
  return isBack;
}
