import { useLayoutEffect, useRef, useState } from "react";

/** How wide a box is as it stands on the page, for what is drawn in it. */
export function useWidth() {
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(900);
  useLayoutEffect(() => {
    const seen = new ResizeObserver(([entry]) => setWidth(entry!.contentRect.width));
    if (box.current) seen.observe(box.current);
    return () => seen.disconnect();
  }, []);
  return { box, width };
}
