"""Another language: a catalogue of translated sentences (gettext PO), for the core's templates and the terms of the pages.

The catalogue to translate is ``docs/dravel.pot``. Templates of the core stand there without a context, terms of the
pages with the context ``web.PLACE``; what stands in braces is filled in and stays.
"""

from collections.abc import Iterator
from pathlib import Path

from babel.messages.catalog import Catalog, Message
from babel.messages.pofile import PoFileError, read_po

from dravel.core.model.words import PLACE, speak

WEB = "web."


class BadCatalogue(ValueError):
    """A file that is no catalogue of translations, with the reason."""


def read(path: Path) -> Catalog:
    """A catalogue from a file. Raises `BadCatalogue`."""
    try:
        with path.open("rb") as file:
            result = read_po(file, abort_invalid=True)
    except (OSError, ValueError, LookupError, PoFileError) as error:
        raise BadCatalogue(f"{path}: no gettext catalogue ({error})") from None
    for message in _translated(result):
        if set(PLACE.findall(str(message.string))) - set(PLACE.findall(str(message.id))):
            raise BadCatalogue(f"{path}: “{message.string}” has a place in braces that “{message.id}” has not")
    return result


def _translated(catalogue: Catalog) -> Iterator[Message]:
    return (item for item in catalogue if item.id and item.string and isinstance(item.id, str) and not item.fuzzy)


def use(catalogue: Catalog) -> None:
    """Have the core's sentences said in this language from here on; what is not translated stays English."""
    known = {str(item.id): str(item.string) for item in _translated(catalogue) if not item.context}
    speak(lambda template: known.get(template, template))


def of_pages(catalogue: Catalog) -> dict[str, dict[str, str]]:
    """The terms of the pages by place: English to the other language."""
    result: dict[str, dict[str, str]] = {}
    for item in _translated(catalogue):
        if item.context and item.context.startswith(WEB):
            result.setdefault(item.context.removeprefix(WEB), {})[str(item.id)] = str(item.string)
    return result
