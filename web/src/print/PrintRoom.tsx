import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { Button, Form, ProgressBar, Spinner } from "react-bootstrap";
import { Link } from "react-router";
import { answered, asSent, client, type BadDay, type Check } from "../api/client";
import { useCatalogue } from "../api/queries";
import { newGesture } from "../shared/gesture";
import { useSheet } from "../sheet/useSheet";
import { kindOf, withSettings, type Settings } from "../sheet/stages";
import { Dial } from "../shared/Dial";
import { FormatSelect } from "../shared/FormatSelect";
import { NotOpened } from "../shared/NotOpened";
import { Trouble } from "../shared/Trouble";
import { useTracedKey, vectorWish } from "../sheet/useTracing";
import { PrintBed } from "./PrintBed";
import { useWish } from "../sheet/useWish";
import { WordMark } from "../shared/WordMark";
import { BadDayChoice } from "./BadDayChoice";
import { Checks } from "./Checks";
import { FileChoices } from "../shared/FileChoices";
import { useExport } from "./useExport";

/** The sheet at its size on paper, the kind of file, and the download. */
export function PrintRoom({ id }: { id: number }) {
  const work = useSheet(id);
  const [badDay, setBadDay] = useState<BadDay | null>(null);
  const [spots, setSpots] = useState<Check["spots"]>([]);
  const { wanted, set, become, error } = useWish(id);
  const { progress, start, stop } = useExport(id);
  const sheet = work.content.state === "ready" ? work.content.sheet : null;
  const catalogue = useCatalogue();
  const paper = sheet?.paper;
  const outlines = useMemo(() => (wanted ? vectorWish(wanted) : undefined), [wanted]);
  const tracing = useTracedKey(id, sheet, outlines, work.saving === "saved");
  const size = useQuery({
    queryKey: ["export-size", id, wanted, paper, work.saving],
    queryFn: () =>
      answered(
        client.POST("/api/sheets/{sheet_id}/export-size", {
          params: { path: { sheet_id: id } },
          body: asSent(wanted!),
        }),
      ),
    enabled: sheet !== null && wanted !== undefined && work.saving === "saved",
    placeholderData: (before) => before,
    retry: false,
  });

  const failed = work.content.state === "failed" ? work.content.sentence : error?.message;
  if (failed) return <NotOpened sentence={failed} />;
  if (!sheet || !catalogue.data || !wanted) {
    return (
      <main className="waiting">
        <Spinner size="sm" /> Opening the print room…
      </main>
    );
  }
  const settings = sheet.paper as Settings;
  const lengths = (kindOf(catalogue.data, "paper", settings)?.dials ?? []).filter(
    (dial) => dial.unit === "mm" && dial.group === "",
  );
  const holdThin = (dpi: number) => set({ dpi, long_edge_px: null });
  const formats = catalogue.data.formats;
  const has = new Set(formats.find((each) => each.name === wanted.format)?.wishes);
  const choose = (format: string) => {
    const next = formats.find((each) => each.name === format);
    if (next) become(next);
  };
  const makeFile = async () => {
    await work.flush();
    await start(wanted);
  };

  return (
    <div className="print-room">
      <header className="top-bar" data-area="the bar">
        <WordMark />
        <h1 tabIndex={-1} data-page-start>
          Print room
        </h1>
        <span className="print-title">{sheet.title}</span>
        <span className="top-gap" />
        <Link to={`/sheets/${id}/tracing`} className="btn btn-plain btn-sm">
          Tracing
        </Link>
        <Link to={`/sheets/${id}`} className="btn btn-plain btn-sm">
          Back to the bench
        </Link>
      </header>
      <main className="print-main">
        {size.data ? (
          <PrintBed
            sheet={sheet}
            wanted={wanted}
            size={size.data}
            badDay={badDay}
            spots={spots}
            traced={tracing.key}
          />
        ) : (
          <div className="bed bed-empty">{size.error ? "" : "Measuring…"}</div>
        )}
      </main>
      <aside className="side-panel print-panel" aria-label="What is printed" data-area="the file">
        <h2>On paper</h2>
        {lengths.map((dial) => (
          <Dial
            key={dial.name}
            spec={dial}
            value={Number(settings[dial.name])}
            onChange={(value, gesture) =>
              work.change(
                withSettings(sheet, "", "paper", { ...settings, [dial.name]: value }),
                `Paper: ${dial.label.toLowerCase()} ${value} mm`,
                gesture,
              )
            }
          />
        ))}
        <Checks
          sheetId={id}
          isSaved={work.saving === "saved"}
          sheet={sheet}
          machines={catalogue.data.machines}
          onMend={(next, words) => work.change(next, words, newGesture())}
          onSpots={setSpots}
        />
        <BadDayChoice day={badDay} onChange={setBadDay} />
        <h2>File</h2>
        <Form.Group controlId="format" className="mb-3">
          <Form.Label>Format</Form.Label>
          <FormatSelect formats={formats} value={wanted.format} onChoose={choose} />
        </Form.Group>
        <FileChoices wanted={wanted} has={has} onChange={set} />
        {size.error ? (
          <Trouble sentence={size.error.message} />
        ) : (
          size.data && (
            <p className="print-size" data-testid="export-size">
              {has.has("dpi") && (
                <>
                  <strong>
                    {size.data.width_px.toLocaleString("en-GB")} ×{" "}
                    {size.data.height_px.toLocaleString("en-GB")} px
                  </strong>
                  <br />
                </>
              )}
              {size.data.width_mm.toFixed(0)} × {size.data.height_mm.toFixed(0)} mm
              {has.has("dpi") && ` at ${size.data.dpi.toFixed(0)} dots an inch`}
            </p>
          )
        )}
        {(size.data?.leaves_as ?? []).length > 0 && (
          <ul className="leaves-as" aria-label="What each plate leaves as">
            {size.data?.leaves_as?.map((words) => (
              <li key={words}>{words}</li>
            ))}
          </ul>
        )}
        {tracing.words && (
          <p className="soft" role="status">
            {tracing.words}
          </p>
        )}
        {tracing.sentence && <Trouble sentence={tracing.sentence} />}
        {wanted.depth &&
          wanted.depth !== "colour" &&
          wanted.depth !== "auto" &&
          size.data?.has_colour && (
            <p className="soft">The sheet has colours; this file will have none.</p>
          )}
        {size.data?.thin && (
          <Trouble sentence={size.data.thin.sentence}>
            <Button variant="link" className="p-0" onClick={() => holdThin(size.data.thin!.dpi)}>
              Use {size.data.thin.dpi} dots an inch
            </Button>
          </Trouble>
        )}
        {work.trouble && <Trouble sentence={work.trouble} />}
        {progress.state === "working" ? (
          <div className="print-work">
            <ProgressBar
              now={progress.job.share * 100}
              label={`${(progress.job.share * 100).toFixed(0)} %`}
              aria-label="File being made"
            />
            <Button variant="plain" size="sm" onClick={() => void stop(progress.job.id)}>
              Stop
            </Button>
          </div>
        ) : (
          <Button onClick={() => void makeFile()} disabled={size.isError}>
            Download the file
          </Button>
        )}
        {progress.state === "failed" && <Trouble sentence={progress.sentence} />}
        {progress.state === "ready" && (
          <p className="print-done" role="status">
            {progress.job.file_name} is made.{" "}
            <a href={`/api/jobs/${progress.job.id}/file`} download={progress.job.file_name}>
              Download it again
            </a>
          </p>
        )}
      </aside>
    </div>
  );
}
