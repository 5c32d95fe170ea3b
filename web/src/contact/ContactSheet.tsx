import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { answered, client, type PhotoFigures, type RecipeRecord } from "../api/client";
import { newestSheet, sending } from "../api/newest";
import { SHEETS, useNewestKnown } from "../api/queries";
import { RecipeCards } from "../live/RecipeCards";
import { useRecipeWall } from "../live/useRecipeWall";
import { FindRecipe } from "../shared/FindRecipe";
import { Trouble } from "../shared/Trouble";
import { useLeadingTo } from "../shared/useLeadingTo";
import { WordMark } from "../shared/WordMark";

interface ContactSheetProps {
  photoId: string;
  /** The sheet that takes another direction; without it a new one begins. */
  sheetId?: number | undefined;
}

/** Every recipe drawn on one photo, as each is done; those that should suit it come first. */
export function ContactSheet({ photoId, sheetId }: ContactSheetProps) {
  const lead = useLeadingTo();
  const queries = useQueryClient();
  const tell = useNewestKnown();
  const [typed, setTyped] = useState("");
  const [trouble, setTrouble] = useState("");
  const [taking, setTaking] = useState(false);
  const path = { photo_id: photoId };
  const photo = useQuery({
    queryKey: ["photo", photoId],
    queryFn: () => answered(client.GET("/api/photos/{photo_id}", { params: { path } })),
  });
  const wall = useRecipeWall(photoId);

  async function take(record: RecipeRecord) {
    setTaking(true);
    try {
      await lead(async () => {
        let id = sheetId;
        if (id === undefined) {
          const body = { photo: photoId, recipe: record.ref };
          id = (await answered(client.POST("/api/sheets", { body }))).id;
        } else {
          const params = { path: { sheet_id: id } };
          const body = { base: (await newestSheet(id)).revision, recipe: record.ref };
          const url = "/api/sheets/{sheet_id}/direction";
          tell(await sending(id, answered(client.POST(url, { params, body }))));
        }
        await queries.invalidateQueries({ queryKey: SHEETS });
        await queries.invalidateQueries({ queryKey: ["pulls"] });
        return `/sheets/${id}`;
      });
    } catch (error) {
      setTrouble((error as Error).message);
      setTaking(false);
    }
  }

  const sentence = photo.error?.message || wall.trouble || trouble;
  return (
    <div className="contact">
      <header className="contact-head" data-area="the bar">
        <WordMark />
        <img src={`/api/photos/${photoId}/picture?long_edge_px=320`} alt="" />
        <div>
          <h1 tabIndex={-1} data-page-start>
            Contact sheet
          </h1>
          <p>
            {photo.data?.title}. {wall.figures && figureWords(wall.figures)}
          </p>
        </div>
        <FindRecipe typed={typed} onType={setTyped} />
        {sheetId !== undefined && (
          <Link to={`/sheets/${sheetId}`} className="btn btn-plain btn-sm">
            Back to the bench
          </Link>
        )}
      </header>
      <main data-area="the recipes">
        {sentence && <Trouble sentence={sentence} />}
        <RecipeCards
          wall={wall}
          typed={typed}
          disabled={taking}
          words={
            sheetId === undefined
              ? "Choose one to begin; every dial stays open."
              : "Choose one to go on with; what the sheet is now is kept as a pull."
          }
          onTake={(record) => void take(record)}
        />
      </main>
    </div>
  );
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
