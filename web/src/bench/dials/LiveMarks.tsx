import { useState } from "react";
import { answered, client, type KindSpec, type Plate, type Sheet } from "../../api/client";
import { type Pictures, usePicture, useSettled } from "../../live/pictures";
import { newGesture } from "../../shared/gesture";
import { type Settings, withSettings } from "../../sheet/stages";
import { MarksDial } from "./MarksDial";

interface LiveMarksProps {
  sheetId: number;
  sheet: Sheet;
  plate: Plate;
  kind: KindSpec;
  many: number;
  pictures: Pictures;
  onChange: (sheet: Sheet, words: string, gesture: string) => void;
  onFlush: () => Promise<boolean>;
}

/** The number of marks of the plate as it is drawn, and the size that a wished number comes to. */
export function LiveMarks(props: LiveMarksProps) {
  const { sheetId, sheet, plate, kind, pictures } = props;
  const [isFinding, setFinding] = useState(false);
  const [trouble, setTrouble] = useState("");
  const answer = usePicture(pictures, "main")?.answer;
  const isSettled = useSettled(pictures, "main");
  const dial = kind.dials.find((each) => each.name === kind.sized_by);

  async function wish(count: number) {
    setFinding(true);
    try {
      if (!(await props.onFlush())) return;
      const found = await answered(
        client.POST("/api/sheets/{sheet_id}/marks", {
          params: { path: { sheet_id: sheetId } },
          body: { plate: plate.id, count },
        }),
      );
      const next = { ...(plate.draw as Settings), [found.dial]: found.value };
      const words = `Draw: ${found.marks.toLocaleString("en-GB")} marks`;
      props.onChange(withSettings(sheet, plate.id, "draw", next), words, newGesture());
      setTrouble("");
    } catch (error) {
      setTrouble((error as Error).message);
    } finally {
      setFinding(false);
    }
  }

  return (
    <>
      <MarksDial
        marks={isSettled ? (answer?.marks ?? undefined) : undefined}
        sizedBy={dial?.label ?? ""}
        many={props.many}
        isBusy={isFinding || !isSettled}
        onWish={(count) => void wish(count)}
      />
      {trouble && (
        <div className="dial-refused" role="alert">
          {trouble}
        </div>
      )}
    </>
  );
}
