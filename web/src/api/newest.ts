import { answered, client, type SheetRecord } from "./client";

/** What is on its way to the server, by the sheet that it changes. */
const onTheWay = new Map<number, Promise<unknown>>();

/** Whoever asks for this sheet from now on waits until what is sent, which is returned, has come. */
export function sending<T>(id: number, sent: Promise<T>): Promise<T> {
  const all = Promise.allSettled([onTheWay.get(id), sent]).then(() => {
    if (onTheWay.get(id) === all) onTheWay.delete(id);
  });
  onTheWay.set(id, all);
  return sent;
}

/** Whether something is on its way that changes this sheet. */
export function isSending(id: number): boolean {
  return onTheWay.has(id);
}

/** A sheet as it is stored at this moment. */
export async function storedSheet(id: number): Promise<SheetRecord> {
  return answered(client.GET("/api/sheets/{sheet_id}", { params: { path: { sheet_id: id } } }));
}

/** A sheet as it is stored once all is there that pages, left ones too, had to say of it. */
export async function newestSheet(id: number): Promise<SheetRecord> {
  return afterAll(
    () => onTheWay.get(id),
    () => storedSheet(id),
  );
}

/** Every sheet on the shelf, last touched first, likewise. */
export async function newestSheets(): Promise<SheetRecord[]> {
  return afterAll(
    () => (onTheWay.size > 0 ? Promise.all(onTheWay.values()) : undefined),
    () => answered(client.GET("/api/sheets")),
  );
}

/** What is answered once nothing is on its way; a server that is not there says so at once. */
async function afterAll<T>(
  sent: () => Promise<unknown> | undefined,
  ask: () => Promise<T>,
): Promise<T> {
  let answer = await ask();
  // What has come may have led to something else that is sent.
  for (let now = sent(); now; now = sent()) {
    await now;
    answer = await ask();
  }
  return answer;
}
