import { type ImgHTMLAttributes, useState } from "react";
import type { Mark } from "../types";
import { Marks } from "./Marks";

interface Props extends ImgHTMLAttributes<HTMLImageElement> {
  marks?: Mark[];
}

/** A photo with what was drawn on it. */
export function MarkedPhoto({ marks, alt, onLoad, ...image }: Props) {
  const [shape, setShape] = useState<number>();
  return (
    <span className="marked">
      <img
        alt={alt}
        {...image}
        onLoad={(e) => {
          setShape(e.currentTarget.naturalHeight / Math.max(1, e.currentTarget.naturalWidth));
          onLoad?.(e);
        }}
      />
      {marks && marks.length > 0 && shape !== undefined && <Marks marks={marks} shape={shape} />}
    </span>
  );
}
