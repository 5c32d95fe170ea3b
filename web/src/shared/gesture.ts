let count = 0;

/** A name for one gesture: changes that carry the same name undo as one step. */
export function newGesture(): string {
  count += 1;
  return `${Date.now().toString(36)}-${count}`;
}
