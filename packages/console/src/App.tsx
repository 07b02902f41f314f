import { Suspense, lazy, type ReactNode } from "react";
import { Link, Navigate, Route, Routes } from "react-router";
import { SignIn } from "./access/SignIn.js";
import { Frame } from "./frame/Frame.js";
import { Message } from "./frame/Message.js";
import { ListingPage } from "./listing/ListingPage.js";
import { ListingsPage } from "./listing/ListingsPage.js";
import { isSignedOut } from "./service/service.js";
import { useSession } from "./service/session.js";

const AccessPage = lazy(() => import("./access/index.js"));
const SourcePages = lazy(() => import("./sources/index.js"));
const DeclarePage = lazy(() => import("./declare/index.js"));
const DocsPage = lazy(() => import("./docs/index.js"));
const WindowsPage = lazy(() => import("./windows/index.js"));

/** The console: a sign-in, then the pages of the listings and the sources. */
export function App() {
  const session = useSession();
  if (session.isPending) return null;
  if (isSignedOut(session.error)) return <SignIn />;
  if (session.isError) {
    return (
      <Frame>
        <Message kind="error" title="The service does not answer">
          {session.error.message}. It may be starting: reload the page in a moment.
        </Message>
      </Frame>
    );
  }
  return (
    <Routes>
      <Route path="/listings/:name" element={<ListingPage />} />
      <Route path="/sources/*" element={late(<SourcePages />)} />
      <Route path="/declare/:name?" element={late(<DeclarePage />)} />
      <Route path="/access" element={late(<AccessPage />)} />
      <Route path="/windows" element={late(<WindowsPage />)} />
      <Route path="/reference" element={late(<DocsPage />)} />
      <Route path="/docs" element={<Navigate to="/reference" replace />} />
      <Route path="/listings" element={<ListingsPage />} />
      <Route path="/" element={<Navigate to="/listings" replace />} />
      <Route path="/sign-in" element={<Navigate to="/listings" replace />} />
      <Route path="*" element={<NoPage />} />
    </Routes>
  );
}

/** What stands at an address that is no page's. */
function NoPage() {
  return (
    <Frame>
      <Message kind="info" title={`There is no page at ${location.pathname}`}>
        <Link to="/listings" className="link">
          All listings
        </Link>
      </Message>
    </Frame>
  );
}

/** A page whose code is fetched when it is first opened. */
function late(page: ReactNode) {
  return <Suspense fallback={<Frame>{null}</Frame>}>{page}</Suspense>;
}
