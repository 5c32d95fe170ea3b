import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Button, Form, Spinner } from "react-bootstrap";
import { answered, client, type Catalogue, type Check, type Sheet } from "../api/client";
import { asOwn, withPlate } from "../sheet/plates";
import { Trouble } from "../shared/Trouble";

interface ChecksProps {
  sheetId: number;
  /** Whether what is seen is what the server has. */
  isSaved: boolean;
  sheet: Sheet;
  machines: Catalogue["machines"];
  onMend: (sheet: Sheet, words: string) => void;
  onSpots: (spots: Check["spots"]) => void;
}

/** What prints it, and what that could not hold: each with where it is and what mends it. */
export function Checks({ sheetId, isSaved, sheet, machines, onMend, onSpots }: ChecksProps) {
  const [machine, setMachine] = useState("");
  const found = useQuery({
    queryKey: ["checks", sheetId, machine, sheet],
    queryFn: ({ signal }) =>
      answered(
        client.GET("/api/sheets/{sheet_id}/checks/{machine}", {
          params: { path: { sheet_id: sheetId, machine } },
          signal,
        }),
      ),
    enabled: machine !== "" && isSaved,
    retry: false,
    gcTime: 0,
  });

  return (
    <section className="checks" aria-label="What prints it">
      <Form.Group controlId="machine" className="mb-2">
        <Form.Label>What prints it</Form.Label>
        <Form.Select
          size="sm"
          value={machine}
          onChange={(e) => {
            setMachine(e.currentTarget.value);
            onSpots([]);
          }}
        >
          <option value="">Not said: nothing is checked</option>
          {machines.map((each) => (
            <option key={each.name} value={each.name}>
              {each.label}
            </option>
          ))}
        </Form.Select>
      </Form.Group>
      {machine !== "" && (found.isFetching || !isSaved) && (
        <p className="soft" role="status">
          <Spinner size="sm" /> Looking closely…
        </p>
      )}
      {found.error && <Trouble sentence={found.error.message} />}
      {found.data && !found.isFetching && (
        <ul className="check-list" data-testid="checks">
          {found.data.checks.length === 0 && <li>Nothing stands in its way.</li>}
          {found.data.checks.map((check) => (
            <li key={check.kind + check.plate_id}>
              {check.sentence}
              <div>
                {(check.spots ?? []).length > 0 && (
                  <Button
                    variant="link"
                    size="sm"
                    className="p-0"
                    onClick={() => onSpots(check.spots)}
                  >
                    Show where
                  </Button>
                )}
                {check.mend !== "" && (
                  <Button
                    variant="link"
                    size="sm"
                    className="p-0"
                    onClick={() => {
                      onSpots([]);
                      onMend(mended(sheet, check), check.mend ?? "");
                    }}
                  >
                    {check.mend}
                  </Button>
                )}
              </div>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

/** The sheet with a check's mend in it. */
export function mended(sheet: Sheet, check: Check): Sheet {
  if (check.paper) return { ...sheet, paper: check.paper } as Sheet;
  const { plate, stage } = check;
  return plate ? withPlate(sheet, plate.id, () => asOwn(plate, stage)) : sheet;
}
