import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Form, Spinner } from "react-bootstrap";
import { answered, client, type RecipeRecord } from "../api/client";
import { RECIPES, SHEETS, usePhotos, useRecipes } from "../api/queries";
import { FileButton } from "../shared/FileButton";
import { GoneWords, useGone } from "../shared/gone";
import { useRoving } from "../shared/roving";
import { useLeadingTo } from "../shared/useLeadingTo";
import { WordMark } from "../shared/WordMark";
import { FindRecipe } from "../shared/FindRecipe";
import { isFound, recipeLabel } from "../shared/recipes";
import { Trouble } from "../shared/Trouble";
import { RecipeCard } from "./RecipeCard";

/** Every recipe with its picture: rename, duplicate, delete, export, import. */
export function RecipeBook() {
  const queries = useQueryClient();
  const [said, setSaid] = useState<string[]>([]);
  const [trouble, setTrouble] = useState("");
  const gone = useGone<RecipeRecord>((record) => record.ref);
  const lead = useLeadingTo();
  const roving = useRoving<HTMLDivElement>();
  const [typed, setTyped] = useState("");
  const [chosenPhoto, setChosenPhoto] = useState("");
  const book = useRecipes();
  const photos = usePhotos();
  const photo = chosenPhoto || photos.data?.[0]?.id || "";

  /** Do something to the book, then show it as it is. */
  async function act(work: () => Promise<unknown>) {
    setTrouble("");
    try {
      await work();
    } catch (error) {
      setTrouble((error as Error).message);
    }
    await queries.invalidateQueries({ queryKey: RECIPES });
  }

  async function take(picked: File[]) {
    const lines: string[] = [];
    for (const file of picked) {
      try {
        const body = { text: await file.text() };
        const { record, notes } = await answered(client.POST("/api/recipes/import", { body }));
        lines.push([`“${record.recipe.name}” is in the book.`, ...notes].join(" "));
      } catch (error) {
        lines.push(`${file.name} was not taken in: ${(error as Error).message}`);
      }
    }
    setSaid(lines);
    await queries.invalidateQueries({ queryKey: RECIPES });
  }

  async function remove(record: RecipeRecord, list: RecipeRecord[]) {
    const params = { path: { ref: record.ref } };
    await act(() => answered(client.DELETE("/api/recipes/{ref}", { params })));
    gone.took(record, list);
  }

  async function putBack(record: RecipeRecord) {
    const params = { path: { ref: record.ref } };
    await act(() => answered(client.POST("/api/recipes/{ref}/restore", { params })));
    gone.back(record);
  }

  /** Begin a sheet of the chosen photo with a recipe. */
  async function draw(record: RecipeRecord) {
    setTrouble("");
    try {
      await lead(async () => {
        const body = { photo, recipe: record.ref };
        const { id } = await answered(client.POST("/api/sheets", { body }));
        await queries.invalidateQueries({ queryKey: SHEETS });
        return `/sheets/${id}`;
      });
    } catch (error) {
      setTrouble((error as Error).message);
    }
  }

  const found = (book.data ?? []).filter((record) => isFound(record, typed));
  const parts: [string, RecipeRecord[]][] = [
    ["Your recipes", found.filter((record) => record.own)],
    ["The house’s recipes", found.filter((record) => !record.own)],
  ];
  const sentence = trouble || book.error?.message || photos.error?.message;
  return (
    <div className="shelf book">
      <header className="shelf-head" data-area="the bar">
        <WordMark />
        <h1 tabIndex={-1} data-page-start>
          Recipe book
        </h1>
        <p>Everything about a sheet that can be used on another photo.</p>
        <FindRecipe typed={typed} onType={setTyped} />
        <Form.Select
          size="sm"
          className="book-photo"
          aria-label="Photo that the recipes are shown on"
          value={photo}
          onChange={(event) => setChosenPhoto(event.currentTarget.value)}
        >
          {photos.data?.map((each) => (
            <option key={each.id} value={each.id}>
              on {each.title}
            </option>
          ))}
        </Form.Select>
        <FileButton
          accept=".json,application/json"
          files="Recipe files"
          multiple
          onFiles={(picked) => void take(picked)}
        >
          Import recipes
        </FileButton>
      </header>
      <main {...roving}>
        {sentence && <Trouble sentence={sentence} />}
        <div role="status" className="book-said">
          {said.map((line) => (
            <p key={line}>{line}</p>
          ))}
        </div>
        {book.isPending && (
          <div className="waiting">
            <Spinner size="sm" /> Opening the book…
          </div>
        )}
        {parts.map(([title, records]) => (
          <section key={title} aria-label={title} data-area={title.toLowerCase()}>
            <h2>{title}</h2>
            {records.length === 0 && (
              <p className="shelf-empty">
                {typed
                  ? "No recipe here has these words."
                  : "None yet. On the bench, “Keep as recipe” puts the work on a sheet in here."}
              </p>
            )}
            <ul className="book-cards">
              {gone.among(records).map(({ item: record, isGone }) =>
                isGone ? (
                  <li key={record.ref} className="book-card">
                    <GoneWords
                      title={record.recipe.name}
                      words="was deleted."
                      onBack={() => void putBack(record)}
                    />
                  </li>
                ) : (
                  <RecipeCard
                    key={record.ref}
                    record={record}
                    label={recipeLabel(record)}
                    photo={photo}
                    onChange={(words) =>
                      act(() =>
                        answered(
                          client.PUT("/api/recipes/{ref}", {
                            params: { path: { ref: record.ref } },
                            body: words,
                          }),
                        ),
                      )
                    }
                    onDuplicate={() =>
                      act(() =>
                        answered(
                          client.POST("/api/recipes/{ref}/duplicate", {
                            params: { path: { ref: record.ref } },
                          }),
                        ),
                      )
                    }
                    onDraw={() => void draw(record)}
                    onRemove={() => void remove(record, records)}
                  />
                ),
              )}
            </ul>
          </section>
        ))}
      </main>
    </div>
  );
}
