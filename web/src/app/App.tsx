import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { BrowserRouter, Link, Route, Routes, useLocation, useParams } from "react-router";
import { ProblemError } from "../api/client";
import { Bench } from "../bench/Bench";
import { ContactSheet } from "../contact/ContactSheet";
import { SheetContact } from "../contact/SheetContact";
import { EditionRoom } from "../edition/EditionRoom";
import { PrintRoom } from "../print/PrintRoom";
import { RecipeBook } from "../recipes/RecipeBook";
import { Shelf } from "../shelf/Shelf";
import { TracingRoom } from "../tracing/TracingRoom";
import { nextArea } from "../shared/areas";
import { useKey } from "../shared/keys";
import { SkipLinks } from "../shared/SkipLinks";
import { Broken } from "./Broken";
import { KeysDialog } from "./KeysDialog";
import { usePageStart } from "./usePageStart";

/** How long a fresh machine is waited for: some minutes. */
const [READY_MS, READY_TRIES] = [2000, 150];

function isNotReady(error: Error): boolean {
  return error instanceof ProblemError && error.later;
}

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      // What is still being made ready is asked for until it is; anything else once more.
      retry: (count, error) => count < (isNotReady(error) ? READY_TRIES : 1),
      retryDelay: (_, error) => (isNotReady(error) ? READY_MS : 500),
      staleTime: 0,
      refetchOnWindowFocus: false,
    },
  },
});

export function App() {
  return (
    <QueryClientProvider client={queries}>
      <BrowserRouter>
        <Pages />
        <KeysDialog />
      </BrowserRouter>
    </QueryClientProvider>
  );
}

function Pages() {
  usePageStart();
  useKey("area", () => nextArea(+1));
  useKey("areaBefore", () => nextArea(-1));
  return (
    <>
      <SkipLinks />
      <Broken at={useLocation().pathname}>
        <Routes>
          <Route path="/" element={<Shelf />} />
          <Route path="/sheets/:id" element={<WithSheet page={(id) => <Bench id={id} />} />} />
          <Route
            path="/sheets/:id/print"
            element={<WithSheet page={(id) => <PrintRoom id={id} />} />}
          />
          <Route
            path="/sheets/:id/tracing"
            element={<WithSheet page={(id) => <TracingRoom id={id} />} />}
          />
          <Route
            path="/sheets/:id/contact"
            element={<WithSheet page={(id) => <SheetContact id={id} />} />}
          />
          <Route path="/editions/:id" element={<WithEdition />} />
          <Route path="/photos/:id/contact" element={<PhotoContact />} />
          <Route path="/recipes" element={<RecipeBook />} />
          <Route path="*" element={<Nowhere />} />
        </Routes>
      </Broken>
    </>
  );
}

function WithEdition() {
  return <WithSheet page={(id) => <EditionRoom id={id} />} />;
}

/** A page of what has a number. */
function WithSheet({ page }: { page: (id: number) => React.ReactNode }) {
  const id = Number(useParams().id);
  return Number.isInteger(id) && id > 0 ? (
    <div className="h-100" key={id}>
      {page(id)}
    </div>
  ) : (
    <Nowhere />
  );
}

function PhotoContact() {
  const { id } = useParams();
  return <ContactSheet key={id} photoId={id ?? ""} />;
}

function Nowhere() {
  return (
    <main className="waiting">
      <h1 className="h3">There is nothing at this address.</h1>
      <Link to="/">Go to the shelf</Link>
    </main>
  );
}
