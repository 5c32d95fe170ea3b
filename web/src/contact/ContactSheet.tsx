import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { Spinner } from "react-bootstrap";
import { Link, useNavigate } from "react-router";
import {
  answered,
  client,
  type PhotoFigures,
  type RecipeRecord,
  type Sheet,
  type View,
} from "../api/client";
import { guessesAsked, SHEETS, useRecipes } from "../api/queries";
import { useCount, useRefusals } from "../live/pictures";
import { useLive } from "../live/useLive";
import { viewOf } from "../live/views";
import { FindRecipe } from "../shared/FindRecipe";
import { isFound, recipeLabel } from "../shared/recipes";
import { SmallProof } from "../live/SmallProof";
import { Trouble } from "../shared/Trouble";

const EDGE_PX = 300;
const MOST = 90;
const FIRST_ROW = 6;

interface ContactSheetProps {
  photoId: string;
  /** The sheet that takes another direction; without it a new one begins. */
  sheetId?: number | undefined;
}

/** Every recipe drawn on one photo, as each is done; those that should suit it come first. */
export function ContactSheet({ photoId, sheetId }: ContactSheetProps) {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const [typed, setTyped] = useState("");
  const [trouble, setTrouble] = useState("");
  const [taking, setTaking] = useState("");
  const path = { photo_id: photoId };
  const photo = useQuery({
    queryKey: ["photo", photoId],
    queryFn: () => answered(client.GET("/api/photos/{photo_id}", { params: { path } })),
  });
  const book = useRecipes();
  const guesses = useQuery(guessesAsked(photoId));
  const inOrder = useMemo(() => {
    const byRef = new Map((book.data ?? []).map((record) => [record.ref, record]));
    return (guesses.data?.order ?? [])
      .map((ref) => byRef.get(ref))
      .filter((record) => record !== undefined)
      .slice(0, MOST);
  }, [book.data, guesses.data]);
  const sheet = useMemo(
    () => ({ format: "flinz-sheet", version: 1, photo: photoId }) as unknown as Sheet,
    [photoId],
  );
  const views = useMemo(
    () =>
      contactViews(
        inOrder.map((record) => record.ref),
        new Set(guesses.data?.quick),
      ),
    [inOrder, guesses.data],
  );
  const live = useLive(sheet, views);
  const refusals = useRefusals(live.pictures);

  async function take(record: RecipeRecord) {
    setTaking(record.ref);
    try {
      let id = sheetId;
      if (id === undefined) {
        const body = { photo: photoId, recipe: record.ref };
        id = (await answered(client.POST("/api/sheets", { body }))).id;
      } else {
        const params = { path: { sheet_id: id } };
        const present = await answered(client.GET("/api/sheets/{sheet_id}", { params }));
        const body = { base: present.revision, recipe: record.ref };
        await answered(client.POST("/api/sheets/{sheet_id}/direction", { params, body }));
      }
      await queries.invalidateQueries({ queryKey: SHEETS });
      await queries.invalidateQueries({ queryKey: ["pulls"] });
      navigate(`/sheets/${id}`);
    } catch (error) {
      setTrouble((error as Error).message);
      setTaking("");
    }
  }

  const sentence = (photo.error ?? book.error ?? guesses.error)?.message || trouble || live.problem;
  const found = inOrder.filter((record) => isFound(record, typed));
  const ids = inOrder.map((record) => viewId(record.ref));
  const refused = [...refusals.values()].filter((each) => !each.later).length;
  const done = useCount(live.pictures, ids) + refused;
  return (
    <div className="contact">
      <header className="contact-head">
        <Link to="/" className="word-mark" aria-label="Flinz, to the shelf">
          Fl<span>i</span>nz
        </Link>
        <img src={`/api/photos/${photoId}/picture?long_edge_px=320`} alt="" />
        <div>
          <h1>Contact sheet</h1>
          <p>
            {photo.data?.title}. {guesses.data && figureWords(guesses.data.figures)}
          </p>
        </div>
        <FindRecipe typed={typed} onType={setTyped} />
        {sheetId !== undefined && (
          <Link to={`/sheets/${sheetId}`} className="btn btn-plain btn-sm">
            Back to the bench
          </Link>
        )}
      </header>
      <main>
        {sentence && <Trouble sentence={sentence} />}
        <p className="contact-line" role="status" data-done={done} data-all={inOrder.length}>
          {done < inOrder.length || inOrder.length === 0 ? (
            <>
              <Spinner size="sm" /> {done} of {inOrder.length || "…"} recipes drawn.{" "}
            </>
          ) : (
            `${done} recipes, each drawn on this photo. `
          )}
          {sheetId === undefined
            ? "Choose one to begin; every dial stays open."
            : "Choose one to go on with; what the sheet is now is kept as a pull."}
        </p>
        {found.length === 0 && inOrder.length > 0 && <p>No recipe has these words.</p>}
        <ol className="contact-cards">
          {found.map((record) => (
            <li key={record.ref}>
              <button type="button" disabled={taking !== ""} onClick={() => take(record)}>
                <span className="contact-picture">
                  <SmallProof
                    className="contact-proof"
                    pictures={live.pictures}
                    id={viewId(record.ref)}
                  />
                </span>
                <span className="contact-name">
                  {recipeLabel(record)}
                  {record.own && <em> yours</em>}
                </span>
                <span className="contact-why">
                  {refusals.get(viewId(record.ref))?.why ?? record.recipe.purpose}
                </span>
              </button>
            </li>
          ))}
        </ol>
      </main>
    </div>
  );
}

function viewId(ref: string): string {
  return `recipe-${ref}`;
}

/** The drawings of recipes in their order; the first row is drafted before, quick ones first. */
export function contactViews(refs: string[], quick: Set<string>): View[] {
  const drawn = refs.map((ref) => viewOf(viewId(ref), EDGE_PX, { recipe: ref }));
  const row = refs.slice(0, FIRST_ROW);
  const drafts = [...row.filter((ref) => quick.has(ref)), ...row.filter((ref) => !quick.has(ref))];
  return [
    ...drafts.map((ref) => viewOf(viewId(ref), EDGE_PX, { recipe: ref, draft: true })),
    ...drawn,
  ];
}

/** What the order was guessed from, in words. */
export function figureWords(figures: PhotoFigures): string {
  const words = [
    figures.parted > 0.45 ? "darks and lights stand apart" : "tones run into each other",
    figures.fine > 0.6
      ? "much fine detail"
      : figures.fine > 0.3
        ? "some fine detail"
        : "broad forms",
    figures.led > 0.6 ? "edges that lead the pen" : "edges in all ways",
    figures.spread > 0.7 ? "a full range of tone" : "a short range of tone",
  ];
  return `It has ${words[1]}, ${words[2]} and ${words[3]}; ${words[0]}. What suits that comes first.`;
}
