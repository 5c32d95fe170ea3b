import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Dropdown } from "react-bootstrap";
import { answered, client } from "../../api/client";
import { Tip } from "../../shared/Tip";

interface HistoryMenuProps {
  sheetId: number;
  revision: number;
  onGoTo: (step: number, words: string) => void;
}

/** Everything that was done to the sheet, in words; a press goes back or forth to it. */
export function HistoryMenu({ sheetId, revision, onGoTo }: HistoryMenuProps) {
  const [open, setOpen] = useState(false);
  const steps = useQuery({
    queryKey: ["steps", sheetId, revision],
    queryFn: () =>
      answered(
        client.GET("/api/sheets/{sheet_id}/steps", { params: { path: { sheet_id: sheetId } } }),
      ),
    enabled: open,
    gcTime: 0,
  });
  const here = steps.data?.find((step) => step.is_here)?.number ?? 0;
  return (
    <Dropdown show={open} onToggle={setOpen} className="btn-group">
      <Tip words="Everything that was done, to go back to">
        <Dropdown.Toggle size="sm" variant="plain" aria-label="The history as a list" />
      </Tip>
      <Dropdown.Menu className="history-menu">
        <Dropdown.Header>What was done, newest first</Dropdown.Header>
        {steps.error && <Dropdown.ItemText>{steps.error.message}</Dropdown.ItemText>}
        {steps.data?.toReversed().map((step) => (
          <Dropdown.Item
            key={step.number}
            active={step.is_here}
            className={step.number > here ? "is-undone" : ""}
            onClick={() => !step.is_here && onGoTo(step.number, step.words)}
          >
            {step.words}
            {step.number > here && <span> undone</span>}
          </Dropdown.Item>
        ))}
      </Dropdown.Menu>
    </Dropdown>
  );
}
