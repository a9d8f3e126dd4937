"""Served in a language that lengthens every sentence by a third: no term stays English, and no page grows too wide."""

import io
from collections.abc import Iterator

import pytest
from babel.messages.catalog import Catalog
from babel.messages.pofile import write_po
from playwright.sync_api import Page, expect

from tests.test_start import address_of, start, stop
from tools.catalogue import catalogue

PAGES = (
    "", "rig-finder", "tonight", "log", "parts", "sky", "compare?rigs=heron,bittern", "upgrade-path", "preferences", "backups",
    *(f"rigs/magpie/{item}" for item in ("aim", "optics", "spacing", "mount", "guiding", "power", "exposure", "assembly", "night", "frames")),
)  # fmt: skip
LEFT = """(english) => {
  const known = new Set(english)
  const found = []
  const walk = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT)
  while (walk.nextNode()) {
    const said = walk.currentNode.textContent.trim()
    const parent = walk.currentNode.parentElement
    if (known.has(said) && parent && !parent.closest('script,style,[data-given]')) found.push(said)
  }
  return found
}"""


WORDS = catalogue()
TERMS = [str(item.id) for item in WORDS if item.context and len(str(item.id)) > 3]
# Plain words and names of figures that the core hands out as they are; and a unit.
OF_THE_CORE = {str(item.id) for item in WORDS if not item.context} | {
    "mount", "counterweight", "owned", "warning", "problem", "sets", "focal length", "pixel scale", "inertia", "″/px",
}  # fmt: skip


def lengthened(words: str) -> str:
    return f"⟦{words}·{'~ ' * (len(words) // 6)}⟧"


@pytest.fixture(scope="module")
def foreign(tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    """The demo, served in the language that lengthens."""
    folder, made, out = tmp_path_factory.mktemp("foreign"), Catalog(locale="eo"), io.BytesIO()
    for item in WORDS:
        if item.id:
            made.add(item.id, lengthened(str(item.id)), context=item.context)
    write_po(out, made)
    (folder / "eo.po").write_bytes(out.getvalue())
    server = start(folder, DRAVEL_LANGUAGE=str(folder / "eo.po"))
    yield address_of(server)
    stop(server)


@pytest.mark.parametrize("place", PAGES)
def test_no_term_stays_english_and_no_page_grows_too_wide(page: Page, foreign: str, place: str):
    page.goto(f"{foreign}/{place}")
    for wide, high in ((1280, 800), (390, 844)):
        page.set_viewport_size({"width": wide, "height": high})
        expect(page.locator("main h1, [data-testid=finding]").first).to_be_visible()
        page.wait_for_load_state("networkidle")
        assert set(page.evaluate(LEFT, TERMS)) <= OF_THE_CORE
        assert page.evaluate("document.documentElement.scrollWidth") <= wide
    assert page.evaluate("document.documentElement.lang") == "eo"
