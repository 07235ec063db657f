import { useEffect, useState } from 'react';

/** A value as it was when it last stayed the same for a while, such as what is being typed. */
export function useDelayed<T>(value: T, milliseconds: number) {
  const [delayed, setDelayed] = useState(value);
  const key = JSON.stringify(value);
  useEffect(() => {
    const timer = setTimeout(() => setDelayed(JSON.parse(key) as T), milliseconds);
    return () => clearTimeout(timer);
  }, [key, milliseconds]);
  return delayed;
}
