import Markdown from "react-markdown";
import { Link, NavLink, useParams } from "react-router";
import remarkGfm from "remark-gfm";
import { terms as common } from "../terms/common";
import { terms } from "../terms/help";
import { addressOf, type GuidePage, ORDER, PAGES } from "./pages";
import "./guidePages.module.css";

const place = (page: GuidePage) => (ORDER.includes(page.name) ? ORDER.indexOf(page.name) : ORDER.length);
const GUIDE = PAGES.filter((page) => !page.tutorial).sort((a, b) => place(a) - place(b));
const TUTORIALS = PAGES.filter((page) => page.tutorial);

/** Help in the application: a page for each stop of the work, tutorials, questions, glossary. */
export default function Guide() {
  const { page: name } = useParams();
  const page = PAGES.find((one) => one.name === (name ?? "start"));
  return (
    <main className="guide-pages">
      <nav aria-label={terms.guide}>
        <h1>{terms.guide}</h1>
        <Contents pages={GUIDE} title={terms.pages} />
        <Contents pages={TUTORIALS} title={terms.tutorials} />
        <h2>{terms.more}</h2>
        <NavLink to="/rules">{common.ruleBook}</NavLink>
        <NavLink to="/about">{terms.about}</NavLink>
      </nav>
      {page ? (
        <article data-testid="guide-page" data-page={page.name}>
          <Markdown
            remarkPlugins={[remarkGfm]}
            components={{ a: ({ href = "", children }) => <Link to={addressOf(href)}>{children}</Link> }}
          >
            {page.text}
          </Markdown>
        </article>
      ) : (
        <p className="quiet">{terms.noSuchPage}</p>
      )}
    </main>
  );
}

function Contents({ pages, title }: { pages: readonly GuidePage[]; title: string }) {
  return (
    <div>
      <h2>{title}</h2>
      {pages.map((one) => (
        <NavLink key={one.name} to={`/guide/${one.name}`}>
          {one.title}
        </NavLink>
      ))}
    </div>
  );
}
