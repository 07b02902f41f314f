import { useQueryClient } from "@tanstack/react-query";
import { LogOut, Moon, Search, Sun, SunMoon } from "lucide-react";
import { useState, type ReactNode } from "react";
import { NavLink } from "react-router";
import { service } from "../service/service.js";
import { useMay } from "../service/session.js";
import { AwayNotice } from "./AwayNotice.js";
import { Keys } from "./Keys.js";
import { Running } from "./Running.js";
import { THEMES, applyTheme, storedTheme, type Theme } from "./theme.js";

const THEME_FACES: Record<Theme, { readonly icon: typeof Sun; readonly name: string }> = {
  system: { icon: SunMoon, name: "as the system" },
  towpath: { icon: Sun, name: "light" },
  lamplight: { icon: Moon, name: "dark" },
};

/** What stands around every page: the name, the listings, the theme, the way out. */
export function Frame(props: {
  readonly children: ReactNode;
  /** Whether the page says itself that the service is away. */
  readonly saysAway?: boolean;
}) {
  const { children, saysAway = false } = props;
  return (
    <div className="flex min-h-screen flex-col bg-base-100 text-base-content">
      <a href="#content" className="sr-only focus:not-sr-only focus:absolute focus:p-2">
        Skip to the content
      </a>
      <header className="flex flex-wrap items-center gap-x-4 border-b-4 border-primary bg-base-200 px-4 py-2 max-md:gap-x-2 max-md:py-1 sm:px-8">
        <img src="/mark.svg" alt="" className="size-7" />
        <span className="font-sentence text-xl font-semibold tracking-wide">Orisma</span>
        <nav
          aria-label="Pages"
          className="order-last flex w-full flex-wrap items-baseline gap-x-3 max-md:-mx-2 max-md:gap-x-0 max-md:text-sm sm:order-none sm:mx-0 sm:w-auto"
        >
          <NavLink to="/listings" className={LINK}>
            Listings
          </NavLink>
          <NavLink to="/windows" className={LINK}>
            Windows
          </NavLink>
          <SourcesLink />
          <NavLink to="/reference" className={LINK}>
            API
          </NavLink>
          <NavLink to="/access" className={LINK}>
            Access
          </NavLink>
        </nav>
        <span className="ms-auto flex gap-1">
          <KeysButton />
          <ThemeButton />
          <SignOutButton />
        </span>
      </header>
      <Keys />
      <Running />
      {saysAway ? null : <AwayNotice />}
      <main id="content" className="flex-1 px-4 py-4 max-md:py-2 sm:px-8">
        {children}
      </main>
    </div>
  );
}

const LINK =
  "rounded-field px-2 py-1 whitespace-nowrap max-md:px-1.5 aria-[current=page]:font-semibold aria-[current=page]:underline aria-[current=page]:decoration-accent aria-[current=page]:decoration-4 aria-[current=page]:underline-offset-8";

/** The way to what was imported, for those who may see it. */
function SourcesLink() {
  if (!useMay("author")) return null;
  return (
    <NavLink to="/sources" className={LINK}>
      Sources
    </NavLink>
  );
}

/** For those who do not know the key of it. */
function KeysButton() {
  return (
    <button
      type="button"
      className="btn btn-ghost btn-sm btn-square"
      onClick={() =>
        document.dispatchEvent(new KeyboardEvent("keydown", { key: "k", ctrlKey: true }))
      }
      title="Find what to do (Ctrl K)"
      aria-label="Search commands"
    >
      <Search className="size-4" aria-hidden />
    </button>
  );
}

function ThemeButton() {
  const [theme, setTheme] = useState<Theme>(storedTheme);
  const { icon: Icon, name } = THEME_FACES[theme];
  const next = THEMES[(THEMES.indexOf(theme) + 1) % THEMES.length] ?? "system";
  const change = () => {
    applyTheme(next);
    setTheme(next);
  };
  return (
    <button
      type="button"
      className="btn btn-ghost btn-sm btn-square"
      onClick={change}
      title={`Colours: ${name}`}
      aria-label={`Colours: ${name}. Change to ${THEME_FACES[next].name}`}
    >
      <Icon className="size-4" aria-hidden />
    </button>
  );
}

function SignOutButton() {
  const queries = useQueryClient();
  const signOut = async () => {
    await service.signOut();
    await queries.resetQueries();
  };
  return (
    <button
      type="button"
      className="btn btn-ghost btn-sm btn-square"
      onClick={() => void signOut()}
      title="Sign out"
      aria-label="Sign out"
    >
      <LogOut className="size-4" aria-hidden />
    </button>
  );
}
