"""axe-core on every main view in every theme; red light is red on black; phones can be used."""

from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import fresh_data, steady
from tests.terms import T

AXE = Path(__file__).parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js"
VIEWS = {
    "/": "[data-testid=ladder] svg",
    "/rigs/heron/aim?target=veil-complex": "[data-testid=footprint] polygon",
    "/rigs/magpie/optics": "[data-testid=options] tbody tr",
    "/rigs/bittern/spacing": "[data-testid=train-block]",
    "/rigs/magpie/mount": "[data-testid=elevation] [data-testid=weight]",
    "/rigs/bittern/guiding": "[data-testid=guide-patch] [data-testid=star]",
    "/rigs/heron/power": "[data-testid=charge] .left path",
    "/compare": "[data-testid=sides] tbody tr",
    "/stages": "[data-testid=stage-card] dl",
    "/shelf": ".ant-table-row",
    "/shelf?part=triplet-86": "[data-testid=part-form]",
    "/preferences": "[data-testid=connector-sizes] tbody tr",
    "/sky": "[data-testid=worth-line]",
    "/rules/O2": "article dl",
    "/about": "[data-testid=plain-table] tr",
}


RED_ONLY = """() => {
  const bad = [];
  const parse = (value) => (value.match(/[\\d.]+/g) || []).map(Number);
  for (const node of document.querySelectorAll('body *')) {
    const style = getComputedStyle(node);
    if (style.visibility === 'hidden' || style.opacity === '0' || node.getBoundingClientRect().width === 0) continue;
    const used = ['color', 'backgroundColor'];
    if (node instanceof SVGElement) used.push('fill', 'stroke');
    else if (parseFloat(style.borderTopWidth) > 0) used.push('borderTopColor');
    for (const name of used) {
      const [r, g, b, a] = parse(style[name] || '');
      if (style[name] === 'none' || a === 0 || r === undefined) continue;
      if (!style[name].startsWith('rgb')) continue;
      if (g > Math.max(r * 0.45, 4) || b > Math.max(r * 0.45, 4))
        bad.push(`${node.tagName}.${node.getAttribute('class')} ${name} ${style[name]}`);
    }
  }
  return [...new Set(bad)].slice(0, 12);
}"""


@pytest.fixture(scope="module")
def address(served, seeded, tmp_path_factory) -> Iterator[str]:
    """Nothing is changed here: one database serves all."""
    with fresh_data(served, seeded, tmp_path_factory.mktemp("data")) as at:
        yield at


def in_theme(page: Page, theme: str) -> None:
    """The theme switched in place, as when another window chose it."""
    page.evaluate(
        "name => { localStorage.setItem('dravel.theme', name);"
        " dispatchEvent(new StorageEvent('storage', { key: 'dravel.theme', newValue: name })); }",
        theme,
    )
    expect(page.locator("html")).to_have_attribute("data-theme", theme)


def serious_faults(page: Page, *rules: str) -> list[str]:
    """What axe finds serious, by all its rules or only by some."""
    evaluation = page.evaluate(
        "only => axe.run(document, { resultTypes: ['violations'], ...(only.length ? { runOnly: only } : {}) })"
        ".then(result => result.violations)",
        list(rules),
    )
    return [
        f"{fault['id']}: {node['target']} {node['failureSummary'][:300]}"
        for fault in evaluation
        if fault["impact"] in ("serious", "critical")
        for node in fault["nodes"]
    ]


@pytest.mark.parametrize("view", VIEWS)
def test_a_view_can_be_used_in_every_theme_and_on_a_phone(page: Page, address: str, view: str):
    """axe finds nothing serious in any theme; red light is red on black; a phone shows it without scrolling
    sideways and with a way out under the thumb."""
    page.goto(address + view)
    steady(page.locator(VIEWS[view]).first)
    page.evaluate(AXE.read_text())
    in_theme(page, "dark")
    faults = {"dark": serious_faults(page)}
    # A theme changes tones and nothing else: what it can break is contrast.
    for theme in ("light", "red"):
        in_theme(page, theme)
        faults[theme] = serious_faults(page, "color-contrast", "link-in-text-block")
    assert not any(faults.values()), faults
    assert page.evaluate(RED_ONLY) == []
    page.set_viewport_size({"width": 390, "height": 844})
    steady(page.locator(VIEWS[view]).first)
    assert page.evaluate("document.documentElement.scrollWidth") <= 391
    if "part=" not in view:
        box = page.get_by_role("button", name=T.app.leaveRedLight).bounding_box()
        assert box and box["height"] >= 44


def test_one_key_and_one_tap_lead_into_the_field(page: Page, address: str):
    page.goto(address)
    page.locator(VIEWS["/"]).wait_for()
    page.keyboard.press("f")
    expect(page.locator("html")).to_have_attribute("data-theme", "red")
    page.get_by_role("button", name=T.app.leaveRedLight).click()
    expect(page.locator("html")).to_have_attribute("data-theme", "dark")
    page.keyboard.press("?")
    expect(page.get_by_role("dialog")).to_contain_text(T.app.redLightOnAndOff)
