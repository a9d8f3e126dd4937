"""A catalogue of translations: what is taken from it, what is refused, and how the page carries it."""

import re

import pytest
from fastapi.testclient import TestClient

from dravel.api.app import PAGES, create_app
from dravel.config import Settings
from dravel.core.model.words import speak, text
from dravel.formats.language import BadCatalogue, of_pages, read, use

HEAD = 'msgid ""\nmsgstr ""\n"Language: de\\n"\n"Content-Type: text/plain; charset=utf-8\\n"\n\n'
FOCUS = 'msgid "Focus needs {needed}; travel is {travel}."\nmsgstr "{travel} Weg, {needed} nötig."\n\n'
SAVE = 'msgctxt "web.rig"\nmsgid "Save now"\nmsgstr "Jetzt </script>sichern"\n\n'
OPEN = 'msgid "Open"\nmsgstr ""\n\n#, fuzzy\nmsgid "Close"\nmsgstr "Zu"\n\n'


@pytest.fixture
def given(tmp_path):
    path = tmp_path / "de.po"
    path.write_text(HEAD + FOCUS + SAVE + OPEN, encoding="utf-8")
    yield path
    speak(str)


def test_sentences_of_the_core_are_said_and_what_is_open_or_unsure_stays(given):
    use(read(given))
    assert (
        str(text("Focus needs {needed}; travel is {travel}.", needed="95 mm", travel="85 mm"))
        == "85 mm Weg, 95 mm nötig."
    )
    assert [str(text(item)) for item in ("Open", "Close", "Save now")] == ["Open", "Close", "Save now"]
    assert of_pages(read(given)) == {"rig": {"Save now": "Jetzt </script>sichern"}}


@pytest.mark.skipif(not (PAGES / "index.html").is_file(), reason="the pages are not built")
def test_the_page_carries_its_terms_and_nothing_in_them_can_run(given, store):
    answer = TestClient(create_app(store, Settings(language=given)), base_url="http://127.0.0.1").get("/rigs/heron")
    (block,) = re.findall(r'<script type="application/json" id="language">(.*?)</script>', answer.text)
    assert answer.status_code == 200 and 'lang="de"' in answer.text and "\\u003c/script>" in block


@pytest.mark.parametrize("content", [
    b"\x00\x01\xff", b'msgid "a', b"msgid \"a\"\nmsgstr \"{b}\"\n", b"PK\x03\x04", b'msgid "a"\nmsgstr "\xe4"\n',
])  # fmt: skip
def test_what_is_no_catalogue_is_refused_with_its_reason(tmp_path, content):
    (tmp_path / "x.po").write_bytes(content)
    with pytest.raises(BadCatalogue, match=r"x\.po"):
        read(tmp_path / "x.po")


def test_a_folder_or_nothing_there_is_refused(tmp_path):
    for path in (tmp_path, tmp_path / "none.po"):
        with pytest.raises(BadCatalogue):
            read(path)
