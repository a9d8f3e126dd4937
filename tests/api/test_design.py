"""Designing over the API and on the command line: events, whole rigs, reasons, stages, improvements, and bad requests in words."""

import json

import pytest
from typer.testing import CliRunner

from dravel.catalogue.starter_shelf import starter_shelf
from dravel.cli import app as command_line
from dravel.core.model import Preferences, Rig
from dravel.core.steps import STEPS
from dravel.store import Store

V1 = "/api/v1"
LISTED = {"about": "list", "targets": ["ic-1805", "ngc-281"], "money": 900}


def events(client, body):
    answer = client.post(f"{V1}/design/events", json=body)
    assert answer.status_code == 200, answer.text
    return [json.loads(line[6:]) for line in answer.text.splitlines() if line.startswith("data: ")]


def test_a_wish_is_answered_as_it_is_found(client):
    report = events(client, LISTED)
    kinds = [item["kind"] for item in report]
    assert kinds[0] == "progress" and kinds[-1] == "answer" and "rig" in kinds
    sure = [item["point"] for item in report if item["kind"] == "rig" and item["sure"]]
    answer = report[-1]["answer"]
    assert sorted(item["row"] for item in sure) == sorted(answer["rows"])
    assert all(item["scores"]["money"] <= 900 for item in sure)
    assert answer["judged"] >= len(sure) and answer["combinations"] > 10_000
    # The second time the shelf is known, and what was found before is found again at once.
    again = client.post(f"{V1}/design", json=LISTED).json()
    assert again["answer"]["rows"] == answer["rows"]


def test_a_rig_of_the_answer_whole_kept_and_compared(client):
    rows = client.post(f"{V1}/design", json=LISTED).json()["answer"]["rows"]
    item = client.post(f"{V1}/design/rig", json={**LISTED, "row": rows[0]}).json()
    assert item["strip"]["blocks"] and item["targets"][0]["name"] and item["facts"]
    rig = Rig.model_validate(item["rig"])
    assert STEPS.evaluate(rig, Preferences()).verdict != "problem"
    kept = client.post(f"{V1}/rigs", json={"rig": item["rig"]})
    assert kept.status_code == 201
    answer = client.post(f"{V1}/evaluate", json={"rig": kept.json()["rig"]}).json()
    assert answer["evaluation"]["tally"]["problem"] == 0
    bill = client.get(f"{V1}/rigs/{kept.json()['id']}/cost").json()
    assert sum(line["amount"] for line in bill["shopping"]) == pytest.approx(item["scores"]["money"])
    other = client.post(f"{V1}/design/rig", json={**LISTED, "row": rows[-1]}).json()
    beside = client.post(f"{V1}/compare", json={"drafts": [item["rig"], other["rig"]], "entries": [{"rig": "heron"}]})
    assert [side["label"] for side in beside.json()["sides"]] == ["Heron", item["name"], other["name"]]
    assert client.post(f"{V1}/compare", json={}).status_code == 422


def test_why_and_stages_and_improvements(client):
    rows = client.post(f"{V1}/design", json={**LISTED, "money": 4000, "stays": ["slim-aps"]}).json()["answer"]["rows"]
    body = {**LISTED, "money": 4000, "stays": ["slim-aps"]}
    points = {item["row"]: item for item in client.post(f"{V1}/design", json=body).json()["points"]}
    dear = max(rows, key=lambda row: points[row]["scores"]["money"])
    why = client.post(f"{V1}/design/why", json={**body, "row": dear, "rows": rows}).json()
    assert why and all(reason["title"] and reason["words"] for reason in why)
    staged = client.post(f"{V1}/design/stages", json={**body, "row": dear, "today": 1500}).json()
    assert staged["survives"] + staged["later_costs"] == pytest.approx(staged["later"]["scores"]["money"])
    answer = client.post(f"{V1}/design/improve/heron", json={"terms": {"money": 2000}})
    assert answer.status_code == 200 and (answer.json()["ways"] or answer.json()["words"])
    assert client.post(f"{V1}/design/improve/nobody", json={}).status_code == 404


@pytest.mark.parametrize(
    ("change", "status", "words"),
    [
        ({"stays": ["nothing"]}, 422, "stays: there is no part 'nothing'"),
        ({"money": -3}, 422, "money"),
        ({"money": "much"}, 422, "money"),
        ({"about": "everything"}, 422, "about"),
        ({"trips": 1.5}, 422, "trips"),
        ({"currency": "gold"}, 422, "currency"),
        ({"targets": ["no-such-thing"]}, 404, "there is no target 'no-such-thing'"),
        ({"site": "nowhere"}, 404, "there is no site 'nowhere'"),
        ({"not_wanted": ["mono", "colour"]}, 422, "not_wanted"),
        ({"unknown": 1}, 422, "unknown"),
    ],
)
@pytest.mark.parametrize("path", ["/design", "/design/events"])
def test_bad_wishes_are_told(client, path, change, status, words):
    answer = client.post(f"{V1}{path}", json={**LISTED, **change})
    assert answer.status_code == status and words in answer.text


@pytest.mark.parametrize(("path", "more"), [("rig", {}), ("why", {}), ("stages", {"today": 100})])
def test_rows_that_are_not_there_are_told(client, path, more):
    answer = client.post(f"{V1}/design/{path}", json={**LISTED, "row": 10**8, **more})
    assert answer.status_code == 422 and "row: there is no such rig" in answer.text


def test_today_too_little_and_an_empty_list(client):
    rows = client.post(f"{V1}/design", json={"about": "planets", "money": 3000}).json()["answer"]["rows"]
    body = {"about": "planets", "money": 3000, "stays": [], "row": rows[0], "today": 0}
    answer = client.post(f"{V1}/design/stages", json=body)
    assert answer.status_code in (200, 422)
    for target in client.get(f"{V1}/targets").json():
        client.delete(f"{V1}/targets/{target['id']}")
    answer = client.post(f"{V1}/design", json={"about": "list"})
    assert answer.status_code == 422 and "targets: the list is empty" in answer.text


@pytest.mark.parametrize("about", ["galaxies_in_spring", "wide_nebulae", "planets", "a_bit_of_all", "list"])
def test_what_a_wish_in_words_stands_for(client, about):
    answer = client.get(f"{V1}/design/targets", params={"about": about}).json()
    assert answer["names"] and len(answer["names"]) == len(answer["months"]) and answer["purposes"]


def test_the_command_line_designs():
    run = CliRunner().invoke
    output = run(command_line, ["design", "--demo", "--targets", "IC 1805, NGC 281", "--money", "1,000"])
    assert output.exit_code == 0 and "judged by every rule" in output.output and "EUR" in output.output
    made = run(command_line, ["design", "--demo", "--request", "planets", "--money", "900", "--json"])
    whole = json.loads(made.output)
    assert whole["rigs"] and whole["answer"]["rows"][0] in {item["row"] for item in whole["rigs"]}
    nothing = run(command_line, ["design", "--demo", "--carried", "1"])
    assert nothing.exit_code == 1 and "≤ 1 kg" in nothing.output


@pytest.mark.parametrize(
    ("given", "words"),
    [
        (["--money", "lots"], "--money: 'lots' is not a number"),
        (["--money", "-1"], "--money"),
        (["--targets", "Nothing 99"], "--targets: 'Nothing 99' is neither among your targets"),
        (["--targets", "M13", "--request", "planets"], "say one of them"),
        (["--request", "stars"], "--request"),
        (["--site", "the moon"], "--site: there is no site"),
        (["--stays", "nothing"], "stays: there is no part"),
        (["--without", "sleep"], "--without"),
        (["--currency", "gold"], "--currency"),
    ],
)
def test_the_command_line_answers_bad_wishes_in_words(given, words):
    answer = CliRunner().invoke(command_line, ["design", "--demo", *given])
    assert answer.exit_code == 3 and words in answer.output and "Traceback" not in answer.output


def test_without_data_the_command_says_so(tmp_path):
    answer = CliRunner().invoke(command_line, ["design", "--data", str(tmp_path)])
    assert answer.exit_code == 3 and "There are no data" in answer.output


def test_a_newcomer_without_prices_gets_an_answer_and_is_told(tmp_path):
    store = Store(tmp_path / "dravel.sqlite")
    store.parts.add(*starter_shelf())
    store.close()
    answer = CliRunner().invoke(
        command_line,
        ["design", "--data", str(tmp_path), "--request", "wide-nebulae", "--money", "2500", "--carried", "8"],
    )
    assert answer.exit_code == 0 and "invented prices" in answer.output and "tracker" in answer.output
