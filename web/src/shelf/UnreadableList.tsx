import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Button } from "react-bootstrap";
import { answered, client } from "../api/client";
import { SHEETS } from "../api/queries";
import { Trouble } from "../shared/Trouble";

const UNREADABLE = ["unreadable"];
const STORE = ["store"];

/** What is stored but cannot be read: named, and for a sheet the way back to its last good step.
 * Above it, why nothing can be saved, where that is so. */
export function UnreadableList() {
  const queries = useQueryClient();
  const [refused, setRefused] = useState("");
  const found = useQuery({
    queryKey: UNREADABLE,
    queryFn: () => answered(client.GET("/api/unreadable")),
  });

  const store = useQuery({
    queryKey: STORE,
    queryFn: () => answered(client.GET("/api/store")),
  });

  async function goBack(id: number) {
    try {
      const path = { sheet_id: id };
      await answered(client.POST("/api/sheets/{sheet_id}/undo", { params: { path } }));
      setRefused("");
    } catch (error) {
      setRefused(`The step before cannot be read either. ${(error as Error).message}`);
    }
    await queries.invalidateQueries({ queryKey: SHEETS });
    await queries.invalidateQueries({ queryKey: UNREADABLE });
  }

  return (
    <>
      {store.data?.read_only && <Trouble sentence={store.data.read_only} />}
      {(found.data ?? []).map((each) => (
        <Trouble
          key={`${each.kind}-${each.id}`}
          sentence={`The ${each.kind} “${each.title}” cannot be read and was left as it is. ${each.why}`}
        >
          {each.kind === "sheet" && each.steps_back > 0 && (
            <Button variant="link" className="p-0" onClick={() => void goBack(each.id)}>
              Go back one step
            </Button>
          )}
        </Trouble>
      ))}
      {refused && <Trouble sentence={refused} />}
    </>
  );
}
