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

/** A sheet as it is stored at this moment. */
export async function storedSheet(id: number): Promise<SheetRecord> {
  return answered(client.GET("/api/sheets/{sheet_id}", { params: { path: { sheet_id: id } } }));
}

/** A sheet as it is stored once all is there that pages, left ones too, had to say of it. */
export async function newestSheet(id: number): Promise<SheetRecord> {
  return after(onTheWay.get(id), () => storedSheet(id));
}

/** Every sheet on the shelf, last touched first, likewise. */
export async function newestSheets(): Promise<SheetRecord[]> {
  const sent = [...onTheWay.values()];
  return after(sent.length > 0 ? Promise.all(sent) : undefined, () =>
    answered(client.GET("/api/sheets")),
  );
}

/** What is answered after something has been sent; a server that is not there says so at once. */
async function after<T>(sent: Promise<unknown> | undefined, ask: () => Promise<T>): Promise<T> {
  const present = await ask();
  if (!sent) return present;
  await sent;
  return ask();
}
