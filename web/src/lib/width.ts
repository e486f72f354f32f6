// The width that a picture has, measured.
import { useEffect, useState } from "react";

export function useWidth() {
  const [box, setBox] = useState<HTMLDivElement | null>(null);
  const [width, setWidth] = useState(0);
  useEffect(() => {
    if (!box) return;
    const seen = new ResizeObserver(() => setWidth(box.clientWidth));
    seen.observe(box);
    return () => seen.disconnect();
  }, [box]);
  return { box: setBox, width };
}
