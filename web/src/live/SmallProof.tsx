import { useEffect, useRef } from "react";
import { type Pictures, usePicture } from "./pictures";

interface SmallProofProps {
  pictures: Pictures;
  /** Of the view it shows. */
  id: string;
  className?: string;
}

/** A small live picture. */
export function SmallProof({ pictures, id, className = "small-proof" }: SmallProofProps) {
  const picture = usePicture(pictures, id);
  const ref = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const canvas = ref.current;
    if (!canvas || !picture) return;
    canvas.dataset.ask = String(picture.answer.ask);
    canvas.dataset.draft = String(picture.answer.draft);
    canvas.width = picture.canvas.width;
    canvas.height = picture.canvas.height;
    canvas.getContext("2d")?.drawImage(picture.canvas, 0, 0);
  }, [picture]);
  return <canvas ref={ref} className={className} aria-hidden="true" width={4} height={3} />;
}
