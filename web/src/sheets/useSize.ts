import { useEffect, useState } from "react";

/** Width and height in px of an element, as they change. */
export function useSize(element: Element | null): [number, number] {
  const [size, setSize] = useState<[number, number]>([0, 0]);
  useEffect(() => {
    if (!element) return;
    const watch = new ResizeObserver(([entry]) => {
      if (entry) setSize([entry.contentRect.width, entry.contentRect.height]);
    });
    watch.observe(element);
    return () => watch.disconnect();
  }, [element]);
  return size;
}
