"""axe-core on every main view in every theme; the field theme is red on black; phones can be used."""

from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import demo_server, steady

AXE = Path(__file__).parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js"
VIEWS = {
    "/": ".ladder svg",
    "/rigs/heron/aim?target=veil-complex": ".frame polygon",
    "/rigs/magpie/glass": ".options tbody tr",
    "/rigs/bittern/spacing": ".train-block",
    "/rigs/magpie/load": ".elevation .weight",
    "/rigs/bittern/guide": ".guide-patch .star",
    "/rigs/heron/power": ".charge .left",
    "/compare": ".sides tbody tr",
    "/stages": ".stage-card dl",
    "/shelf": ".ant-table-row",
    "/shelf?part=triplet-86": ".part-form",
    "/practice": ".connector-sizes tbody tr",
    "/sky": ".worth-line",
    "/rules/O2": "article dl",
    "/about": ".plain-table tr",
}


@pytest.fixture(scope="module")
def address(tmp_path_factory) -> Iterator[str]:
    """Nothing is changed here: one server serves all."""
    with demo_server(tmp_path_factory.mktemp("data")) as started:
        yield started


def open_in(page: Page, address: str, view: str, theme: str) -> None:
    page.add_init_script(f"localStorage.setItem('dravel.theme', '{theme}')")
    page.goto(address + view)
    steady(page.locator(VIEWS[view]).first)


@pytest.mark.parametrize("theme", ["dark", "light", "field"])
@pytest.mark.parametrize("view", VIEWS)
def test_axe_finds_no_serious_fault(page: Page, address: str, view: str, theme: str):
    open_in(page, address, view, theme)
    page.evaluate(AXE.read_text())
    found = page.evaluate("axe.run(document, {resultTypes: ['violations']}).then(r => r.violations)")
    serious = [
        f"{fault['id']}: {node['target']} {node['failureSummary'][:300]}"
        for fault in found
        if fault["impact"] in ("serious", "critical")
        for node in fault["nodes"]
    ]
    assert not serious, "\n".join(serious)


@pytest.mark.parametrize(
    "view",
    [
        "/",
        "/rigs/heron/aim?target=veil-complex",
        "/rigs/magpie/glass",
        "/rigs/bittern/spacing",
        "/rigs/magpie/load",
        "/rigs/bittern/guide",
        "/rigs/heron/power",
        "/sky",
    ],
)
def test_the_field_theme_is_red_on_black_and_nothing_else(page: Page, address: str, view: str, tmp_path: Path):
    open_in(page, address, view, "field")
    worst = page.evaluate(
        """() => {
          const bad = [];
          const parse = (value) => (value.match(/[\\d.]+/g) || []).map(Number);
          for (const node of document.querySelectorAll('body *')) {
            const style = getComputedStyle(node);
            if (style.visibility === 'hidden' || node.getBoundingClientRect().width === 0) continue;
            const used = ['color', 'backgroundColor'];
            if (node instanceof SVGElement) used.push('fill', 'stroke');
            else if (parseFloat(style.borderTopWidth) > 0) used.push('borderTopColor');
            for (const name of used) {
              const [r, g, b, a] = parse(style[name] || '');
              if (style[name] === 'none' || a === 0 || r === undefined) continue;
              if (!style[name].startsWith('rgb')) continue;
              if (g > Math.max(r * 0.45, 4) || b > Math.max(r * 0.45, 4)) bad.push(`${node.tagName}.${node.getAttribute('class')} ${name} ${style[name]}`);
            }
          }
          return [...new Set(bad)].slice(0, 12);
        }"""
    )
    assert worst == []


@pytest.mark.parametrize("view", list(VIEWS))
def test_a_phone_can_be_used(page: Page, address: str, view: str):
    page.set_viewport_size({"width": 390, "height": 844})
    open_in(page, address, view, "field")
    assert page.evaluate("document.documentElement.scrollWidth") <= 391
    switch = page.get_by_role("button", name="Leave field")
    if "part=" not in view:
        box = switch.bounding_box()
        assert box and box["height"] >= 44


def test_one_key_and_one_tap_lead_into_the_field(page: Page, address: str):
    page.goto(address)
    page.locator(VIEWS["/"]).wait_for()
    page.keyboard.press("f")
    expect(page.locator("html")).to_have_attribute("data-theme", "field")
    page.get_by_role("button", name="Leave field").click()
    expect(page.locator("html")).to_have_attribute("data-theme", "dark")
    page.keyboard.press("?")
    expect(page.get_by_role("dialog")).to_contain_text("field theme on and off")
