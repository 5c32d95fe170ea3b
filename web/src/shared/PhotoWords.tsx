import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { answered, client } from "../api/client";
import { PHOTOS } from "../api/queries";

interface PhotoWordsProps {
  photo: { id: string; title: string; caption: string };
  /** How the words stand while nobody changes them; it is given the button to do so. */
  children: (rename: React.ReactNode) => React.ReactNode;
}

interface Words {
  title: string;
  caption: string;
}

/**
 * Title and caption of a photo, changed where they stand: Enter takes them, Esc leaves them. What
 * was changed last is undone beside them.
 */
export function PhotoWords({ photo, children }: PhotoWordsProps) {
  const queries = useQueryClient();
  const [typed, setTyped] = useState<Words | null>(null);
  const [before, setBefore] = useState<Words | null>(null);
  const [trouble, setTrouble] = useState("");

  async function take() {
    const title = typed?.title.trim() ?? "";
    const caption = typed?.caption.trim() ?? "";
    setTyped(null);
    if (!title || (title === photo.title && caption === photo.caption)) return;
    if (await put({ title, caption })) setBefore({ title: photo.title, caption: photo.caption });
  }

  async function undo() {
    if (before && (await put(before))) setBefore(null);
  }

  /** Have other words; false where that failed, which is said. */
  async function put(words: Words): Promise<boolean> {
    let isDone = false;
    try {
      const params = { path: { photo_id: photo.id } };
      await answered(client.PUT("/api/photos/{photo_id}", { params, body: words }));
      setTrouble("");
      isDone = true;
    } catch (error) {
      setTrouble((error as Error).message);
    }
    void queries.invalidateQueries({ queryKey: PHOTOS });
    // Editions name files, and may letter them, by these words.
    void queries.invalidateQueries({ queryKey: ["edition"] });
    return isDone;
  }

  if (typed === null) {
    return (
      <>
        {children(
          <>
            <Button
              variant="link"
              size="sm"
              className="photo-rename"
              aria-label={`rename ${photo.title}`}
              onClick={() => setTyped({ title: photo.title, caption: photo.caption })}
            >
              rename
            </Button>{" "}
            {before && (
              <Button
                variant="link"
                size="sm"
                className="photo-rename"
                aria-label={`undo: back to ${before.title}`}
                title={`Back to ${before.title}`}
                onClick={() => void undo()}
              >
                undo
              </Button>
            )}
          </>,
        )}
        {trouble && <p role="alert">{trouble}</p>}
      </>
    );
  }
  return (
    <form
      className="photo-words"
      onSubmit={(event) => {
        event.preventDefault();
        void take();
      }}
      onBlur={(event) => {
        if (!event.currentTarget.contains(event.relatedTarget)) void take();
      }}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === "Escape") setTyped(null);
      }}
    >
      <Form.Control
        size="sm"
        autoFocus
        aria-label={`Title of ${photo.title}`}
        maxLength={200}
        value={typed.title}
        onFocus={(event) => event.currentTarget.select()}
        onChange={(event) => setTyped({ ...typed, title: event.currentTarget.value })}
      />
      <Form.Control
        size="sm"
        aria-label={`Caption of ${photo.title}`}
        placeholder="Caption"
        maxLength={500}
        value={typed.caption}
        onChange={(event) => setTyped({ ...typed, caption: event.currentTarget.value })}
      />
      <button type="submit" hidden />
    </form>
  );
}
