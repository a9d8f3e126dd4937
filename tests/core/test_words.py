"""Sentences with values: how numbers are written, what a text carries, how it is sent, other words for it."""

from math import inf, nan

import pytest
from pydantic import TypeAdapter

from dravel.core.model.words import Text, Value, duration, joined, number, speak, text


@pytest.mark.parametrize(
    ("value", "words"),
    [
        (Value(55.7, "mm", 1), "55.7 mm"),
        (Value(-0.7, "mm", 1, form="signed"), "−0.7 mm"),
        (Value(0.72, "mm", 1, form="signed"), "+0.7 mm"),
        (Value(-0.01, "mm", 1, form="signed"), "0.0 mm"),
        (Value(1.74, "″/px", 2), "1.74″/px"),
        (Value(1.6, "×", 1), "1.6×"),
        (Value(0.32, form="share"), "32%"),
        (Value(0.004, form="share"), "<1%"),
        (Value(0.0, form="share"), "0%"),
        (Value(0.0004, form="share", digits=1), "<0.1%"),
        (Value(565, form="time"), "9 min 25 s"),
        (Value(3.5, form="long"), "3 h 30 min"),
        (Value(55.7, "mm", 1, off=0.2), "55.7 ± 0.2 mm"),
        (Value(2, "px", to=3), "2–3 px"),
        (Value(3, "h", to=3.001, form="about"), "3 h"),
        (Value(1234, "h", form="about"), "1,200 h"),
        (Value(0.0678, "µm", form="about"), "0.068 µm"),
        (Value(None, "mm"), "—"),
        (Value(17_039, "e⁻", 0), "17,039 e⁻"),
        (Value(-2, "°C"), "−2 °C"),
        (Value(nan, "mm"), "— mm"),
        (Value(inf, "h"), "∞ h"),
    ],
)
def test_values_are_written_one_way(value, words):
    assert str(value) == words


@pytest.mark.parametrize(
    ("seconds", "words"),
    [
        (0.5, "0.5 s"), (0, "0 min"), (2, "2 s"), (59.4, "59 s"), (59.7, "1 min"), (60, "1 min"), (180, "3 min"), (565, "9 min 25 s"),
        (3599.7, "1 h"), (3600, "1 h"), (5400, "1 h 30 min"), (854_000, "237 h"), (-90, "−1 min 30 s"), (inf, "∞"),
    ],
)  # fmt: skip
def test_durations_have_one_form(seconds, words):
    assert duration(seconds) == words


def test_numbers_without_digits_have_three_figures_at_most():
    assert [number(item) for item in (1240.4, 84.26, 3.14159, 55.0, 0.065, -12.0)] == [
        "1,240", "84.3", "3.14", "55", "0.07", "−12"
    ]  # fmt: skip


def said() -> Text:
    return text("Back focus {actual}, required {required}{why}.", actual=Value(54.7, "mm", 1), required=Value(55.7, "mm", 1, "spacing.required_mm"), why=None)  # fmt: skip


def test_a_text_reads_as_one_and_carries_its_values():
    back = said()
    assert back == "Back focus 54.7 mm, required 55.7 mm." and "55.7" in back and f"{back}" == back
    assert [key for key, _ in back.values()] == ["test_words.said.actual", "spacing.required_mm"]
    assert [key for key, _ in back.at("S2").values()] == ["S2.actual", "spacing.required_mm"]
    assert back.value("actual").number == 54.7
    with pytest.raises(KeyError):
        back.value("why")
    with pytest.raises(KeyError):
        str(Text("{a}{b}", {"a": 1}))


def test_texts_are_put_together_with_all_their_values():
    both = said() + " Corner stars elongate."
    assert both == "Back focus 54.7 mm, required 55.7 mm. Corner stars elongate." and len(list(both.values())) == 2
    assert joined(", ", ["a", "", "b {x}"]) == "a, b {x}"
    assert list(("Now: " + said()).values()) == list(said().values())


def test_a_text_is_sent_with_template_and_keys_and_read_back():
    sent = TypeAdapter(Text).dump_python(text("As built: {inner}", inner=said()))
    inside = sent["parts"]["inner"]["inside"]
    assert inside["parts"]["required"] | {"inside": None} == {
        "text": "55.7 mm", "key": "spacing.required_mm", "inside": None
    }  # fmt: skip
    assert TypeAdapter(Text).validate_python(sent) == "As built: Back focus 54.7 mm, required 55.7 mm."
    assert TypeAdapter(Text).dump_python(text("Plain"))["parts"] == {}
    with pytest.raises(ValueError, match="text"):
        TypeAdapter(Text).validate_python(3)


def test_sentences_are_said_in_other_words():
    speak(lambda template: template.replace("Back focus {actual}, required {required}", "[{required}] ← {actual}"))
    try:
        assert said() == "[55.7 mm] ← 54.7 mm."
    finally:
        speak(str)
