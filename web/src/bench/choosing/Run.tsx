import type { Catalogue, Plate, Sheet } from "../../api/client";
import { SmallProof } from "../../live/SmallProof";
import type { Pictures } from "../../live/pictures";
import { useRoving } from "../../shared/roving";
import { handOf } from "../hand/useHand";
import { runOf, type Step, summary, titleOf } from "../../sheet/stages";

interface RunProps {
  catalogue: Catalogue;
  sheet: Sheet;
  plate: Plate;
  sizeMm: { width: number; height: number };
  chosen: Step;
  pictures: Pictures;
  discs: React.ReactNode;
  onChoose: (step: Step) => void;
  onShowLarge: (step: Step) => void;
}

/** The plate's stages from top to bottom, each with a real proof of what leaves it. */
export function Run(props: RunProps) {
  const roving = useRoving<HTMLOListElement>();
  return (
    <nav className="run" aria-label="Stages of this plate" data-area="the stages">
      {props.discs}
      <ol {...roving}>
        {runOf(props.catalogue, props.plate, props.chosen).map(({ name: step }) => {
          const title = titleOf(props.catalogue, props.plate, step);
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
                <SmallProof pictures={props.pictures} id={`run-${step}`} />
                <span className="run-words">
                  <strong>
                    {title}
                    {handOf(props.sheet, props.plate, step) && (
                      <i className="run-hand" title="With hand work">
                        {" "}
                        ●
                      </i>
                    )}
                  </strong>
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
