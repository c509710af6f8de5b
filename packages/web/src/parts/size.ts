import { useEffect, useState, type RefObject } from "react";

export interface Size {
  readonly width: number;
  readonly height: number;
}

/** How large an element is, in whole pixels; undefined until it has been laid out. */
export function useSize(element: RefObject<HTMLElement | null>): Size | undefined {
  const [size, setSize] = useState<Size | undefined>();
  useEffect(() => {
    const watched = element.current!;
    const watch = new ResizeObserver(() =>
      setSize({ width: Math.floor(watched.clientWidth), height: Math.floor(watched.clientHeight) }),
    );
    watch.observe(watched);
    return () => watch.disconnect();
  }, [element]);
  return size;
}
