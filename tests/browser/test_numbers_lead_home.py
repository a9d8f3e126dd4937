"""No number with a unit stands on a page without a key to its calculation: pages of every place and step, walked."""

import re

import pytest
from playwright.sync_api import Page, expect

RIGS = ("heron", "magpie", "bittern")
STEPS = ("aim", "optics", "spacing", "mount", "guiding", "power", "exposure", "assembly", "night", "frames")
PLACES = (
    "", "rig-finder", "tonight", "log", "log?view=light", "log?view=month", "parts", "sky", "compare", "upgrade-path",
    "preferences", "rules", "backups",
)  # fmt: skip
PAGES = (*PLACES, *(f"rigs/{rig}/{step}" for rig in RIGS for step in STEPS))

# What may stand without a key: the scale of a drawing, what was given (fields, choices, parts in short), formulas and
# sources on a rule's page, which are themselves where keys lead, and headings, which name a quantity.
BARE = """(names) => {
  const free = 'input,textarea,select,option,script,style,th,h1,h2,h3,.formula,[data-axis],[data-given],[data-figure],'
    + '.recharts-xAxis-tick-labels,.recharts-yAxis-tick-labels,.recharts-cartesian-axis-tick-labels'
  const unit = new RegExp('(?:^|[^\\\\w.])[−+~<≥≤≈]?\\\\d[\\\\d,.]*\\\\s?(mm|µm|px|″|′|°|s|min|h|kg|g|Wh|W|A|V|K|e⁻|%|×|N·m|mag'
    + '|MB|m/s|EUR|USD|R)(?![\\\\w])', 'u')
  const found = []
  const walk = document.createTreeWalker(document.getElementById('view') || document.body, NodeFilter.SHOW_TEXT)
  while (walk.nextNode()) {
    const parent = walk.currentNode.parentElement
    if (!parent || parent.closest(free) || !parent.getClientRects().length) continue
    let said = walk.currentNode.textContent
    for (const name of names) said = said.replaceAll(name, '')
    if (unit.test(said)) found.push(`${said.trim().slice(0, 80)} | ${parent.tagName}.${parent.getAttribute('class') || ''}`)
  }
  return found
}"""


def names(page: Page, address: str) -> list[str]:
    """What parts are called, on the shelf and on rigs: a name may hold a number."""
    api = page.request
    parts = [item["body"]["name"] for item in api.get(f"{address}/api/v1/parts?most=500").json()]
    text = "".join(api.get(f"{address}/api/v1/rigs/{rig}").text() for rig in RIGS)
    return sorted({*parts, *re.findall(r'"name": ?"([^"]+)"', text)}, key=len, reverse=True)


@pytest.mark.parametrize("place", PAGES)
def test_no_number_is_without_a_key(page: Page, address: str, place: str):
    page.goto(f"{address}/{place}")
    expect(page.locator("main h1").first).to_be_visible()
    page.wait_for_load_state("networkidle")
    before = -1  # what comes in a stream has come when no more comes
    while (now := page.locator("main *").count()) != before:
        before = now
        page.wait_for_timeout(700)
    page.evaluate("document.querySelectorAll('main details').forEach((more) => { more.open = true })")
    assert page.evaluate(BARE, names(page, address)) == []
