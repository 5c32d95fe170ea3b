import { useSyncExternalStore } from "react";
import type { Answer, Lying } from "../api/client";

/** One drawn picture and where it lies on the sheet (shares 0..1). */
export interface Picture {
  canvas: HTMLCanvasElement;
  left: number;
  top: number;
  right: number;
  bottom: number;
  answer: Answer;
}

/** Why a view could not be drawn; later: it comes by itself as soon as it can. */
export interface Refusal {
  why: string;
  later: boolean;
}

/**
 * The newest picture of each view. What shows one listens to it alone: while a dial turns many
 * come each second, and the page around them stays as it is.
 */
export class Pictures {
  private readonly held = new Map<string, Picture>();
  private readonly listeners = new Set<() => void>();
  /** Number of the newest ask. */
  asked = 0;
  /** Why a view of it could not be drawn, by its id. */
  refusals: ReadonlyMap<string, Refusal> = new Map();
  /** The suggested values that came with the main picture. */
  suggestions: Record<string, number> = {};
  /** How what each plate is drawn from lay in the settled main picture. */
  lying: Lying[] = [];

  get(id: string): Picture | undefined {
    return this.held.get(id);
  }

  put(picture: Picture): void {
    const { ask, view, suggestions, draft } = picture.answer;
    const held = this.held.get(view)?.answer;
    // Several are drawn at once: a draft that was held up comes after the picture it is a draft of.
    if (draft && held?.ask === ask && !held.draft) return;
    this.held.set(view, picture);
    if (this.refusals.has(view)) {
      const refusals = new Map(this.refusals);
      refusals.delete(view);
      this.refusals = refusals;
    }
    // A draft has none. Equal ones stay the same object: what shows them is not drawn again.
    const lying = view === "main" && !draft ? picture.answer.lying : null;
    if (lying && !isEqual(lying, this.lying)) this.lying = lying;
    const found = view === "main" && !draft && suggestions;
    if (found && !isEqual(found, this.suggestions)) this.suggestions = found;
    this.tell();
  }

  refuse(id: string, refusal: Refusal): void {
    this.refusals = new Map(this.refusals).set(id, refusal);
    this.tell();
  }

  /** The number of a new ask. */
  ask(): number {
    this.asked += 1;
    if (this.refusals.size > 0) this.refusals = new Map();
    this.tell();
    return this.asked;
  }

  /** Calls listener after every change; returns what ends that. */
  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** Whether a view's picture is of the newest ask, and no draft. */
  isSettled(id: string): boolean {
    const answer = this.held.get(id)?.answer;
    return answer !== undefined && answer.ask === this.asked && !answer.draft;
  }

  private tell(): void {
    for (const listener of this.listeners) listener();
  }
}

function isEqual(one: object, other: object): boolean {
  return JSON.stringify(one) === JSON.stringify(other);
}

/**
 * Calls then once, when a view's picture is settled and has been for so long: what may wait is not to
 * hold up what one came to see. Returns what ends that.
 */
export function onceRested(pictures: Pictures, id: string, ms: number, then: () => void) {
  let timer: number | undefined;
  function look() {
    if (pictures.isSettled(id)) {
      timer ??= window.setTimeout(end, ms);
    } else {
      window.clearTimeout(timer);
      timer = undefined;
    }
  }
  const leave = pictures.subscribe(look);
  function end() {
    leave();
    then();
  }
  look();
  return () => {
    leave();
    window.clearTimeout(timer);
  };
}

/** The newest picture of a view. */
export function usePicture(pictures: Pictures, id: string): Picture | undefined {
  return useSyncExternalStore(pictures.subscribe, () => pictures.get(id));
}

/** Whether a view's picture is of the newest ask, and no draft. */
export function useSettled(pictures: Pictures, id: string): boolean {
  return useSyncExternalStore(pictures.subscribe, () => pictures.isSettled(id));
}

/** The number of the newest ask. */
export function useAsked(pictures: Pictures): number {
  return useSyncExternalStore(pictures.subscribe, () => pictures.asked);
}

/** Why views could not be drawn, by their ids. */
export function useRefusals(pictures: Pictures): ReadonlyMap<string, Refusal> {
  return useSyncExternalStore(pictures.subscribe, () => pictures.refusals);
}

/** How many of some views have a picture. */
export function useCount(pictures: Pictures, ids: string[]): number {
  return useSyncExternalStore(
    pictures.subscribe,
    () => ids.filter((id) => pictures.get(id) !== undefined).length,
  );
}

/** The suggested values that came with the main picture, the same object while they are equal. */
export function useSuggestions(pictures: Pictures): Record<string, number> {
  return useSyncExternalStore(pictures.subscribe, () => pictures.suggestions);
}

/** How what plates are drawn from lies, the same object while nothing moved. */
export function useLying(pictures: Pictures): Lying[] {
  return useSyncExternalStore(pictures.subscribe, () => pictures.lying);
}
