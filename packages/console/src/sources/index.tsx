import { Route, Routes } from "react-router";
import { SourcePage } from "./SourcePage.js";
import { SourcesPage } from "./SourcesPage.js";

/** The pages where files are imported and their readings set; loaded when they are first visited. */
export default function SourcePages() {
  return (
    <Routes>
      <Route index element={<SourcesPage />} />
      <Route path=":name" element={<SourcePage />} />
    </Routes>
  );
}
