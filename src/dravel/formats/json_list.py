"""A long list of JSON objects read one at a time, so that no more of it is in memory than the longest."""

import codecs
import json
from collections.abc import Iterator
from typing import IO, Any, NoReturn

PIECE = 65_536
SPACE = " \t\r\n"


class NotAList(ValueError):
    """The text is no list of objects, or one of them is longer than it may be."""


def objects(file: IO[bytes], longest: int) -> Iterator[dict[str, Any]]:
    """The objects of a list, each of at most `longest` characters. Raises `NotAList`; what the file raises is let through."""
    text = _Text(file, longest)
    if text.sign() != "[":
        raise NotAList("is no list of rows")
    text.skip()
    if text.sign() == "]":
        text.skip()
    else:
        while True:
            yield text.object()
            sign = text.sign()
            text.skip()
            if sign == "]":
                break
            if sign != ",":
                raise NotAList(f"a comma or the end was to come, not {sign!r}")
    if text.sign():
        raise NotAList("goes on after its end")


def _no_number(said: str) -> NoReturn:
    raise NotAList(f"{said} is no number in JSON")


class _Text:
    """What is read of a file, from where the next thing begins."""

    def __init__(self, file: IO[bytes], longest: int) -> None:
        self._file, self._longest = file, longest
        self._letters = codecs.getincrementaldecoder("utf-8")()
        self._decoder = json.JSONDecoder(parse_constant=_no_number)
        self._text, self._at, self._ended = "", 0, False

    def sign(self) -> str:
        """The next sign that is no space; empty at the end."""
        passed = 0
        while True:
            while self._at < len(self._text):
                if self._text[self._at] not in SPACE:
                    return self._text[self._at]
                self._at += 1
                passed += 1
            if passed > self._longest:
                raise NotAList(f"a row is longer than the {self._longest:,} characters it may have")
            if not self._more():
                return ""

    def skip(self) -> None:
        """Go past the next sign."""
        self._at += 1

    def object(self) -> dict[str, Any]:
        """The next object."""
        if self.sign() != "{":
            raise NotAList("is no list of rows")
        while True:
            try:
                result, self._at = self._decoder.raw_decode(self._text, self._at)
            except json.JSONDecodeError as error:
                # Cut off where the text ends so far, or broken: more of it tells, up to what a row may have.
                if len(self._text) - self._at > self._longest:
                    raise NotAList(f"a row is longer than the {self._longest:,} characters it may have") from None
                if not self._more():
                    raise NotAList(f"cannot be read ({error.msg})") from None
            except RecursionError:
                raise NotAList("is nested too deep") from None
            except NotAList:
                raise
            except ValueError as error:
                raise NotAList(f"cannot be read ({error})") from None
            else:
                return dict(result)

    def _more(self) -> bool:
        """Read on, as much again as there is; False at the end."""
        if self._ended:
            return False
        piece = self._file.read(max(PIECE, len(self._text) - self._at))
        self._ended = not piece
        try:
            self._text = self._text[self._at :] + self._letters.decode(piece, final=self._ended)
        except UnicodeDecodeError:
            raise NotAList("is not text in UTF-8") from None
        self._at = 0
        return True
