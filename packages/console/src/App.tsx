import { Suspense, lazy, type ReactNode } from "react";
import { Link, Navigate, Route, Routes } from "react-router";
import { SignIn, SignInAgain } from "./access/SignIn.js";
import { Frame } from "./frame/Frame.js";
import { Message } from "./frame/Message.js";
import { ListingPage } from "./listing/ListingPage.js";
import { ListingsPage } from "./listing/ListingsPage.js";
import {
  codeOf,
  isSignedOut,
  isUnreachable,
  useConnection,
  useRecovery,
} from "./service/connection.js";
import { useSession } from "./service/session.js";

const AccessPage = lazy(() => codeOf(() => import("./access/index.js")));
const SourcePages = lazy(() => codeOf(() => import("./sources/index.js")));
const DeclarePage = lazy(() => codeOf(() => import("./declare/index.js")));
const DocsPage = lazy(() => codeOf(() => import("./docs/index.js")));
const WindowsPage = lazy(() => codeOf(() => import("./windows/index.js")));

/** The console: a sign-in, then the pages of the listings and the sources. */
export function App() {
  const session = useSession();
  const { hasEnded } = useConnection();
  useRecovery();
  if (session.isPending) return null;
  if (session.data === undefined) {
    if (isSignedOut(session.error)) return <SignIn />;
    // The notice of the frame says what is wrong, and tries again.
    return (
      <Frame>
        {isUnreachable(session.error) ? null : (
          <Message kind="error" title="The page cannot be shown">
            {session.error.message}.
          </Message>
        )}
      </Frame>
    );
  }
  return (
    <>
      <Pages />
      {hasEnded ? <SignInAgain /> : null}
    </>
  );
}

function Pages() {
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
