import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { answered, client, type Plate } from "../../api/client";
import { RECIPES, useRecipes } from "../../api/queries";
import { isSamePen, type Lines, type Pen, penOf, pensOf } from "../../sheet/pens";

interface PensProps {
  sheetId: number;
  plate: Plate;
  lines: Lines;
  onTake: (pen: Pen, name: string) => void;
  onFlush: () => Promise<boolean>;
  onTrouble: (sentence: string) => void;
}

/** The pens of the recipe book: one is taken for these lines, or theirs is kept by a name. */
export function Pens({ sheetId, plate, lines, onTake, onFlush, onTrouble }: PensProps) {
  const recipes = useRecipes();
  const queries = useQueryClient();
  const [name, setName] = useState<string | null>(null);
  const pens = pensOf(recipes.data ?? []);
  const mine = pens.findIndex(({ pen }) => isSamePen(pen, penOf(lines)));

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
          aria-label="A pen of the recipe book"
          value={mine}
          onChange={(event) => {
            const taken = pens[Number(event.currentTarget.value)];
            if (taken) onTake(taken.pen, taken.name);
          }}
        >
          {mine < 0 && <option value={-1}>A pen of the recipe book…</option>}
          {pens.map((each, number) => (
            <option key={number} value={number}>
              {each.name}
            </option>
          ))}
        </Form.Select>
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
