import type { Catalogue, PhotoRecord, Sheet } from "../api/client";
import type { Work } from "../sheet/useSheet";

/** What is on the bench: a sheet with its photo, and what there is to do it with. */
export interface TheBench {
  id: number;
  work: Work;
  sheet: Sheet;
  photo: PhotoRecord;
  catalogue: Catalogue;
  /** Address of the picture that shows until the first one is drawn. */
  lastPicture?: string | undefined;
}
