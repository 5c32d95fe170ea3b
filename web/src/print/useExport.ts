import { useCallback, useEffect, useRef, useState } from "react";
import { answered, client, asSent, type JobRecord, unanswered, type Wish } from "../api/client";

export type ExportState =
  | { state: "idle" }
  | { state: "working"; job: JobRecord }
  | { state: "ready"; job: JobRecord }
  | { state: "failed"; sentence: string };

/** Makes a picture file of a sheet: progress, a stop, and the download when it is done. */
export function useExport(sheetId: number) {
  const [progress, setProgress] = useState<ExportState>({ state: "idle" });
  const source = useRef<EventSource | null>(null);

  useEffect(() => () => source.current?.close(), []);

  const start = useCallback(
    async (wanted: Wish) => {
      try {
        const job = await answered(
          client.POST("/api/sheets/{sheet_id}/exports", {
            params: { path: { sheet_id: sheetId } },
            body: asSent(wanted),
          }),
        );
        setProgress({ state: "working", job });
        source.current = watched(job.id, setProgress);
      } catch (error) {
        setProgress({ state: "failed", sentence: (error as Error).message });
      }
    },
    [sheetId],
  );

  // A server that does not answer makes nothing, either.
  const stop = useCallback((jobId: number) => {
    unanswered(client.POST("/api/jobs/{job_id}/stop", { params: { path: { job_id: jobId } } }));
  }, []);

  return { progress, start, stop };
}

function watched(jobId: number, onChange: (state: ExportState) => void): EventSource {
  const source = new EventSource(`/api/jobs/${jobId}/events`);
  source.onmessage = (event: MessageEvent<string>) => {
    const job = JSON.parse(event.data) as JobRecord;
    if (job.state === "done") {
      source.close();
      onChange({ state: "ready", job });
      download(`/api/jobs/${job.id}/file`, job.file_name);
    } else if (job.state === "failed" || job.state === "stopped") {
      source.close();
      onChange({ state: "failed", sentence: job.message });
    } else {
      onChange({ state: "working", job });
    }
  };
  source.onerror = () => {
    // The browser tries again by itself unless the stream was closed for good.
    if (source.readyState === EventSource.CLOSED) {
      onChange({ state: "failed", sentence: "Flinz stopped answering. Make the file again." });
    }
  };
  return source;
}

function download(url: string, name: string) {
  const link = document.createElement("a");
  link.href = url;
  link.download = name;
  document.body.append(link);
  link.click();
  link.remove();
}
