"""Counts that show in several places, read side by side on every demo rig."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import held, step
from tests.terms import T


def counted(text: str) -> tuple[int, int]:
    """Problems and warnings in words such as "2 problems, 7 warnings" or "1 problem · 3 warnings · 40 OK"."""
    results = [re.search(rf"(\d+) {word}", text) for word in ("problem", "warning")]
    return tuple(int(match[1]) if match else 0 for match in results)  # type: ignore[return-value]


def test_board_ledger_rail_and_comparison_count_alike(page: Page, address: str):
    page.goto(address)
    heads = page.get_by_test_id("row-head")
    expect(heads.first).to_be_visible()
    board = {head.get_attribute("href").split("/")[2]: head.inner_text() for head in heads.all()}
    assert len(board) >= 4
    marks = {
        head.get_attribute("href").split("/")[2]: head.get_by_role("img").first.get_attribute("aria-label")
        for head in heads.all()
    }
    answer: dict[str, tuple[int, int]] = {}
    for rig, words in board.items():
        page.goto(f"{address}/rigs/{rig}/aim")
        panel = page.get_by_label(T.rig.findings)
        findings = panel.get_by_test_id("finding")
        expect(findings.first).to_be_visible()
        answer[rig] = counted(panel.locator("header").inner_text())
        assert answer[rig] == counted(words), rig
        assert answer[rig] == tuple(panel.locator(f".finding.{verdict}").count() for verdict in ("problem", "warning"))
        assert marks[rig] == ("problem" if answer[rig][0] else "warning" if answer[rig][1] else "OK"), rig
        rail = step(page, "aim").inner_text()
        targets = page.get_by_role("toolbar", name=T.kit.targetsOfThisRig).get_by_role("button")
        expect(targets.first).to_be_visible()
        framed = targets.count() - 1
        assert (f"{framed} target" if framed else "no target") in rail
    page.goto(f"{address}/compare?rigs={','.join(answer)}")
    line = page.get_by_test_id("sides").get_by_role("row", name=re.compile(f"^{T.growth.problemsWarnings}"))
    expect(line).to_be_visible()
    cells = [cell.inner_text() for cell in line.get_by_role("cell").all()]
    assert cells == [f"{breaks}, {strains}" for breaks, strains in answer.values()]


def labelled(page: Page, blocks: str) -> dict[str, float]:
    """Lengths by name from labels such as "21 mm filter drawer, 21.0 mm, with …"."""
    result = (re.match(r"(.+), ([\d.]+) mm(?:, with .+)?$", item.get_attribute("aria-label") or "")
             for item in page.locator(blocks).all())  # fmt: skip
    return {match[1]: float(match[2]) for match in result if match}


def test_strip_rule_and_ledger_tell_the_same_lengths(page: Page, address: str):
    """On every demo rig, and on one with a reading and a total over a group."""
    page.goto(address)
    heads = page.get_by_test_id("row-head")
    expect(heads.first).to_be_visible()
    rigs = [head.get_attribute("href").split("/")[2] for head in heads.all()]
    page.evaluate(
        """async () => {
          const { rig, revision } = await (await fetch('/api/v1/rigs/heron')).json();
          const drawer = rig.path.find((item) => item.part.id === 'drawer-21').part;
          drawer.measured = { optical_length_mm: { value: 20.7 } };
          const parts = ['ring-m48-16-5', 'ring-m48-0-7', 'drawer-21'];
          rig.measured_spans = [{ parts, total: { value: 38.6 } }];
          const body = JSON.stringify({ rig: { ...rig, name: 'Measured' } });
          await fetch('/api/v1/rigs', { method: 'POST', headers: { 'content-type': 'application/json' }, body });
        }"""
    )
    for rig in (*rigs, "measured"):
        page.goto(f"{address}/rigs/{rig}/spacing")
        expect(page.locator("[data-testid=train-block]").first).to_be_visible()
        rule, strip = labelled(page, "[data-testid=train-block]"), labelled(page, ".light-strip [role=button]")
        assert rule and rule == {name: strip[name] for name in rule}, rig
        numbers = page.get_by_test_id("spacing-numbers").inner_text()
        laid = re.search(r"([\d.]+) mm laid", held(page).inner_text())
        if laid:
            assert laid[1] in numbers, rig
        if rig == "measured":
            assert rule["21 mm filter drawer"] == 20.7
            assert sum(rule[name] for name in rule if "ring" in name or "drawer" in name) == pytest.approx(38.6)
