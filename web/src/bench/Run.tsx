import { useEffect, useRef } from "react";
import type { Catalogue, Plate, Sheet } from "../api/client";
import { type Step, STEP_WORDS, STEPS, summary } from "./stages";
import type { Picture } from "./useLive";

interface RunProps {
  catalogue: Catalogue;
  sheet: Sheet;
  plate: Plate;
  sizeMm: { width: number; height: number };
  chosen: Step;
  pictures: ReadonlyMap<string, Picture>;
  onChoose: (step: Step) => void;
  onShowLarge: (step: Step) => void;
}

/** The plate's stages from top to bottom, each with a real proof of what leaves it. */
export function Run(props: RunProps) {
  return (
    <nav className="run" aria-label="Stages of this plate">
      <p className="run-plate">
        <span className="ink-disc" style={{ background: props.plate.ink.colour }} /> one plate
      </p>
      <ol>
        {STEPS.map((step) => {
          const line = summary(props.catalogue, props.sheet, props.plate, step, props.sizeMm);
          return (
            <li key={step}>
              <button
                type="button"
                className={`run-step ${line.quiet ? "run-quiet" : ""}`}
                aria-current={props.chosen === step ? "step" : undefined}
                title="Double-click shows this stage large"
                onClick={() => props.onChoose(step)}
                onDoubleClick={() => props.onShowLarge(step)}
              >
                <SmallProof picture={props.pictures.get(`run-${step}`)} />
                <span className="run-words">
                  <strong>{STEP_WORDS[step].title}</strong>
                  <span>{line.words}</span>
                </span>
              </button>
            </li>
          );
        })}
      </ol>
    </nav>
  );
}

/** A small live picture. */
export function SmallProof({ picture }: { picture: Picture | undefined }) {
  const ref = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const canvas = ref.current;
    if (!canvas || !picture) return;
    canvas.dataset.ask = String(picture.answer.ask);
    canvas.width = picture.canvas.width;
    canvas.height = picture.canvas.height;
    canvas.getContext("2d")?.drawImage(picture.canvas, 0, 0);
  }, [picture]);
  return <canvas ref={ref} className="small-proof" aria-hidden="true" width={4} height={3} />;
}
