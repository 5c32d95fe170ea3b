import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { answered, client, type Plate, type Sheet } from "../../api/client";
import { RECIPES, useRecipes } from "../../api/queries";
import { type FromLines, isSamePen, type Pen, penOf, pensFor, sharingPen } from "../../sheet/pens";
import { plateLabel } from "../../sheet/plates";

interface PensProps {
  sheetId: number;
  sheet: Sheet;
  plate: Plate;
  source: FromLines;
  onTake: (pen: Pen, name: string) => void;
  onFlush: () => Promise<boolean>;
  onTrouble: (sentence: string) => void;
}

/**
 * The pens of the sheet's other lines and of the recipe book: one is taken for these lines, or
 * theirs is kept by a name. Lines that share one are drawn by it, however it is turned.
 */
export function Pens(props: PensProps) {
  const { sheetId, sheet, plate, source, onTake, onFlush, onTrouble } = props;
  const recipes = useRecipes();
  const queries = useQueryClient();
  const [name, setName] = useState<string | null>(null);
  const pens = pensFor(sheet, plate, recipes.data ?? []);
  const own = penOf(source.lines);
  const alike = pens.findIndex(({ pen }) => isSamePen(pen, own));
  const called = pens.findIndex((each) => each.name === source.pen && isSamePen(each.pen, own));
  const mine = called < 0 ? alike : called;
  const sharing = sharingPen(sheet, plate).map((each) => `“${plateLabel(sheet, each.id)}”`);

  async function keep(event: React.FormEvent) {
    event.preventDefault();
    // What the server has is kept: it must be what is seen here.
    if (name === null || !(await onFlush())) return;
    try {
      const body = {
        name: name.trim(),
        purpose: "A pen for lines",
        notes: "",
        sheet_id: sheetId,
        plates: [plate.id],
        stages: [],
        tones: "numbers" as const,
      };
      await answered(client.POST("/api/recipes/from-sheet", { body }));
      await queries.invalidateQueries({ queryKey: RECIPES });
      onTake(own, body.name);
      setName(null);
    } catch (error) {
      onTrouble((error as Error).message);
    }
  }

  return (
    <div className="source-own">
      {pens.length > 0 && (
        <Form.Select
          size="sm"
          aria-label="A pen of this sheet or the recipe book"
          value={mine}
          onChange={(event) => {
            const taken = pens[Number(event.currentTarget.value)];
            if (taken) onTake(taken.pen, taken.name);
          }}
        >
          {mine < 0 && <option value={-1}>Another pen…</option>}
          {pens.map((each, number) => (
            <option key={number} value={number}>
              {each.name}
            </option>
          ))}
        </Form.Select>
      )}
      {sharing.length > 0 && (
        <p className="soft" role="status">
          Shared with {sharing.join(", ")}: turned here, it turns there too.{" "}
          <Button size="sm" variant="plain" onClick={() => onTake(own, "")}>
            A pen of its own
          </Button>
        </p>
      )}
      {name === null ? (
        mine < 0 && (
          <Button size="sm" variant="plain" onClick={() => setName("")}>
            Keep this pen…
          </Button>
        )
      ) : (
        <Form className="keep-pen" onSubmit={(event) => void keep(event)}>
          <Form.Control
            size="sm"
            aria-label="Name of the pen"
            placeholder="Name of the pen"
            value={name}
            maxLength={120}
            autoFocus
            onChange={(event) => setName(event.currentTarget.value)}
            onKeyDown={(event) => event.key === "Escape" && setName(null)}
          />
          <Button size="sm" type="submit" disabled={name.trim() === ""}>
            Keep
          </Button>
        </Form>
      )}
    </div>
  );
}
