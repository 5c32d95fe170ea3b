import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useId, useRef, useState } from "react";
import { Form } from "react-bootstrap";
import { answered, client } from "../../api/client";
import type { DialSpec } from "../../api/client";
import { newGesture } from "../../shared/gesture";
import { recentInks, rememberInk } from "../../shared/recentInks";
import { useRoving } from "../../shared/roving";
import { StripMark } from "../../shared/StripMark";
import { Tip } from "../../shared/Tip";
import { HexField } from "../../shared/HexField";

interface Pot {
  name: string;
  colour: string;
}

interface ColourDialProps {
  reference: string;
  spec: DialSpec;
  /** Colours by name that Flinz brings. */
  pots: Pot[];
  value: string;
  /** gesture is the same for all colours tried while the chooser is open. */
  onChange: (value: string, gesture: string) => void;
  onStrip: () => void;
  onTouch: () => void;
  onPick: () => void;
}

const POTS = ["pots"];

/** A colour: typed, mixed, picked, or from a pot. All tried in one go undo as one step. */
export function ColourDial({ reference, spec, pots, value, onChange, ...on }: ColourDialProps) {
  const id = useId();
  const gesture = useRef("");
  const begin = () => {
    on.onTouch();
    gesture.current = newGesture();
  };
  const own = useQuery({ queryKey: POTS, queryFn: () => answered(client.GET("/api/pots")) });
  const [recent, setRecent] = useState(recentInks);
  const named = [...(own.data ?? []), ...pots];

  function take(colour: string) {
    setRecent(rememberInk(colour));
    onChange(colour, newGesture());
  }

  return (
    <div className="dial dial-colour" data-dial={reference}>
      <div className="dial-head">
        <label className="form-label" htmlFor={id}>
          {spec.label}
        </label>
        <HexField label={spec.label} value={value} onChange={take} onTouch={on.onTouch} />
        <Form.Control
          id={id}
          type="color"
          value={value}
          onPointerDown={begin}
          onKeyDown={begin}
          onFocus={begin}
          onBlur={() => setRecent(rememberInk(value))}
          onChange={(event) => onChange(event.currentTarget.value, gesture.current || newGesture())}
        />
        <Tip words="Pick a colour from the photo or the sheet" side="top">
          <button
            type="button"
            className="dial-pick"
            aria-label={`Pick ${spec.label.toLowerCase()} from the photo or the sheet`}
            onClick={on.onPick}
          >
            ◎
          </button>
        </Tip>
        <StripMark label={spec.label} onStrip={on.onStrip} />
      </div>
      <Pots label={spec.label} pots={named} recent={recent} value={value} onTake={take} />
      <PotWords pots={named} own={own.data ?? []} value={value} />
      <span className="dial-hint">{spec.hint}</span>
    </div>
  );
}

interface PotsProps {
  label: string;
  pots: Pot[];
  recent: string[];
  value: string;
  onTake: (colour: string) => void;
}

/** Pots, and what was used lately and is from none. */
function Pots({ label, pots, recent, value, onTake }: PotsProps) {
  const roving = useRoving<HTMLDivElement>();
  const known = new Set(pots.map((pot) => pot.colour));
  const lately = recent
    .filter((colour) => !known.has(colour))
    .map((colour) => ({ name: `${colour}, used lately`, colour }));
  return (
    <div className="pots" role="group" aria-label={`${label}: pots`} {...roving}>
      {[...lately, ...pots].map((pot) => (
        <button
          key={`${pot.name} ${pot.colour}`}
          type="button"
          className="pot"
          style={{ background: pot.colour }}
          aria-pressed={pot.colour === value.toLowerCase()}
          aria-label={pot.name}
          title={pot.name}
          onClick={() => onTake(pot.colour)}
        />
      ))}
    </div>
  );
}

interface PotWordsProps {
  pots: Pot[];
  own: (Pot & { id: number })[];
  value: string;
}

/** The pot that the colour is from, and how one is kept or taken away. */
function PotWords({ pots, own, value }: PotWordsProps) {
  const queries = useQueryClient();
  const [name, setName] = useState<string | null>(null);
  const [trouble, setTrouble] = useState("");
  const colour = value.toLowerCase();
  const mine = own.find((pot) => pot.colour === colour);
  const pot = pots.find((each) => each.colour === colour);

  async function act(work: Promise<unknown>) {
    try {
      await work;
      setTrouble("");
    } catch (error) {
      setTrouble((error as Error).message);
    }
    setName(null);
    await queries.invalidateQueries({ queryKey: POTS });
  }

  function keep(event: React.FormEvent) {
    event.preventDefault();
    if (name?.trim()) void act(answered(client.POST("/api/pots", { body: { name, colour } })));
  }

  function takeAway(id: number) {
    void act(answered(client.DELETE("/api/pots/{pot_id}", { params: { path: { pot_id: id } } })));
  }

  if (name !== null) {
    return (
      <form className="pot-words" onSubmit={keep}>
        <input
          autoFocus
          aria-label="Name of the pot"
          placeholder="Name of the pot"
          maxLength={60}
          value={name}
          onChange={(event) => setName(event.currentTarget.value)}
          onKeyDown={(event) => {
            if (event.key !== "Escape") return;
            event.stopPropagation();
            setName(null);
          }}
        />
        <button type="submit">keep</button>
      </form>
    );
  }
  return (
    <div className="pot-words">
      <span>{pot?.name ?? "mixed"}</span>
      {mine && (
        <button type="button" onClick={() => takeAway(mine.id)}>
          take this pot away
        </button>
      )}
      {!pot && (
        <button type="button" onClick={() => setName("")}>
          keep as a pot
        </button>
      )}
      {trouble && <span role="alert">{trouble}</span>}
    </div>
  );
}
