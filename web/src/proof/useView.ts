import { type RefObject, useCallback, useEffect, useLayoutEffect, useRef, useState } from "react";
import type { Box } from "../api/client";

/** What part of the bench shows: `x`, `y` in mm at the top left corner, `k` pixels a millimetre. */
export interface View {
  x: number;
  y: number;
  k: number;
}

/** CSS defines 96 px an inch, so at this many pixels a millimetre things show at true size. */
export const TRUE_SIZE = 96 / 25.4;
/** How much nearer one step goes. */
export const NEARER = 1.3;
/** Pixels at the left and at the top that rulers lie over. */
export const RULER = 22;
const LEAST = 0.02;
const MOST = 400;

function fitting(box: Box, width: number, height: number): View {
  const [x0, y0, x1, y1] = box;
  const room = 0.86;
  const k = Math.min((width * room) / Math.max(x1 - x0, 1), (height * room) / Math.max(y1 - y0, 1), MOST);
  return { k, x: (x0 + x1) / 2 - width / 2 / k, y: (y0 + y1) / 2 - height / 2 / k };
}

/** The view, its size, and the ways to move it: wheel and pinch at the pointer, space-drag, fit. */
export function useView(area: RefObject<SVGSVGElement | null>, content: Box) {
  const [size, setSize] = useState({ width: 0, height: 0 });
  const [own, setOwn] = useState<View | null>(null);
  const [fitted, setFitted] = useState(content);
  const view = own ?? fitting(fitted, size.width || 600, size.height || 500);
  const latest = useRef(view);
  useEffect(() => {
    latest.current = view;
  });

  useLayoutEffect(() => {
    const element = area.current;
    if (!element) return;
    const observer = new ResizeObserver(() => {
      setSize({ width: element.clientWidth, height: element.clientHeight });
    });
    observer.observe(element);
    return () => observer.disconnect();
  }, [area]);

  const zoomAt = useCallback((px: number, py: number, factor: number) => {
    const { x, y, k } = latest.current;
    const to = Math.min(MOST, Math.max(LEAST, k * factor));
    setOwn({ k: to, x: x + px / k - px / to, y: y + py / k - py / to });
  }, []);

  useEffect(() => {
    const element = area.current;
    if (!element) return;
    const onWheel = (event: WheelEvent) => {
      event.preventDefault();
      const box = element.getBoundingClientRect();
      // A pinch arrives as a wheel with Ctrl held, in much smaller steps.
      const speed = event.ctrlKey ? 0.01 : 0.0015;
      zoomAt(event.clientX - box.left, event.clientY - box.top, Math.exp(-event.deltaY * speed));
    };
    element.addEventListener("wheel", onWheel, { passive: false });
    return () => element.removeEventListener("wheel", onWheel);
  }, [area, zoomAt]);

  const panBy = (dx: number, dy: number) => {
    const { x, y, k } = latest.current;
    setOwn({ k, x: x - dx / k, y: y - dy / k });
  };
  const zoomBy = (factor: number) => zoomAt(size.width / 2, size.height / 2, factor);
  const zoomTo = (k: number) => zoomBy(k / latest.current.k);
  const fit = useCallback((box: Box) => {
    setFitted(box);
    setOwn(null);
  }, []);
  /** Whether a box lies within what shows, clear of the rulers. */
  const shows = ([x0, y0, x1, y1]: Box) =>
    x0 >= view.x + RULER / view.k && y0 >= view.y + RULER / view.k && x1 <= view.x + size.width / view.k && y1 <= view.y + size.height / view.k;
  const show = useCallback(
    (box: Box) => {
      const [x0, y0, x1, y1] = box;
      // A speck alone on the screen says nothing about where it is: leave some of its surroundings.
      const around = Math.max(12, 0.1 * Math.max(x1 - x0, y1 - y0));
      setOwn(fitting([x0 - around, y0 - around, x1 + around, y1 + around], size.width, size.height));
    },
    [size],
  );
  return { view, size, own: own !== null, panBy, zoomBy, zoomTo, fit, shows, show };
}
