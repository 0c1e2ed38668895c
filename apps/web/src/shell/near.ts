/** Whether something has come near the part of the page that is seen: what is heavy and far off is made when it comes near. */
import { type RefObject, useEffect, useState } from 'react';

const AHEAD_PX = 500;

/** Once near, it stays so. */
export function useNear(ref: RefObject<Element | null>): boolean {
  const [near, setNear] = useState(false);
  useEffect(() => {
    if (near || !ref.current) return;
    const observer = new IntersectionObserver((entries) => entries.some((entry) => entry.isIntersecting) && setNear(true), {
      rootMargin: `${AHEAD_PX}px`,
    });
    observer.observe(ref.current);
    return () => observer.disconnect();
  }, [ref, near]);
  return near;
}
