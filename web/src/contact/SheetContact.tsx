import { useQuery } from "@tanstack/react-query";
import { Spinner } from "react-bootstrap";
import { Link } from "react-router";
import { newestSheet } from "../api/newest";
import { Trouble } from "../shared/Trouble";
import { ContactSheet } from "./ContactSheet";

/** The contact sheet of a sheet's photo, to change its direction. */
export function SheetContact({ id }: { id: number }) {
  const record = useQuery({
    queryKey: ["sheet", id],
    queryFn: () => newestSheet(id),
    gcTime: 0,
  });
  if (record.data) return <ContactSheet photoId={record.data.sheet.picture.photo} sheetId={id} />;
  return (
    <main className="waiting">
      {record.error ? (
        <>
          <Trouble sentence={record.error.message} />
          <Link to="/">Back to the shelf</Link>
        </>
      ) : (
        <Spinner size="sm" />
      )}
    </main>
  );
}
