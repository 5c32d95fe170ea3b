import { useMemo } from "react";
import type { OptionSpec, Sheet, View } from "../../api/client";
import { useLive } from "../../live/useLive";
import { viewOf } from "../../live/views";
import { OptionList } from "./OptionList";

const EDGE_PX = 156;

interface LiveOptionsProps {
  id: string;
  label: string;
  sheet: Sheet;
  plateId: string;
  /** The choice, "step.name". */
  path: string;
  /** What of the sheet shows the difference best. */
  what: Pick<View, "what" | "stage">;
  options: OptionSpec[];
  chosen: string;
  onChoose: (name: string) => void;
}

/** The values of a choice, each drawn on this sheet as it is now. */
export function LiveOptions({ sheet, plateId, path, what, options, ...list }: LiveOptionsProps) {
  const { what: of, stage } = what;
  const views = useMemo(
    () => [
      // An ask begins with a picture that is always finished.
      viewOf("first", 16, { what: "photo" }),
      ...options.map(({ name }) =>
        viewOf(viewId(name), EDGE_PX, {
          what: of,
          stage,
          plate: plateId,
          dials: { [path]: name },
          compared: true,
        }),
      ),
    ],
    [options, of, stage, plateId, path],
  );
  const live = useLive(sheet, views);
  return <OptionList {...list} options={options} pictures={live.pictures} viewId={viewId} />;
}

function viewId(name: string): string {
  return `option-${name}`;
}
