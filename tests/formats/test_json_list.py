"""Lists of objects read one at a time: as the standard reader reads them whole, in little memory, and broken ones told."""

import io
import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dravel.formats import json_list
from dravel.formats.json_list import NotAList, objects

VALUES = st.recursive(
    st.none() | st.booleans() | st.integers() | st.floats(allow_nan=False, allow_infinity=False) | st.text(),
    lambda inner: st.lists(inner, max_size=4) | st.dictionaries(st.text(), inner, max_size=4),
    max_leaves=12,
)


@given(
    st.lists(st.dictionaries(st.text(), VALUES, max_size=4), max_size=8),
    st.sampled_from([None, 1, "\t"]),
    st.integers(1, 70),
)
def test_read_piece_by_piece_it_is_what_it_is_read_whole(rows, indent, piece):
    text = json.dumps(rows, ensure_ascii=False, indent=indent)
    kept, json_list.PIECE = json_list.PIECE, piece
    try:
        assert list(
            objects(
                io.BytesIO(
                    text.encode("utf-8", "surrogatepass") if text.isascii() else text.encode("utf-8", "replace")
                ),
                10**6,
            )
        ) == json.loads(text.encode("utf-8", "replace").decode())
    finally:
        json_list.PIECE = kept


@pytest.mark.parametrize(("text", "said"), [
    (b"", "no list"), (b"{}", "no list"), (b"[1]", "no list"), (b"[[]]", "no list"), (b"[{]", "cannot be read"), (b'[{"a": 1}', "comma or the end"),
    (b'[{"a": 1} {"b": 2}]', "comma or the end"), (b"[{}] x", "after its end"), (b'[{"a": NaN}]', "no number"), (b"[{}," , "no list"),
    (b'[{"a": ' + b"9" * 5000 + b"}]", "cannot be read"), (b'[{"a": ' + b"[" * 200_000, "deep|longer"), (b'[{"a": "\xff"}]', "UTF-8"),
    (b'[{"a": "' + b"x" * 3_000_000 + b'"}]', "longer"), (b"[" + b" " * 3_000_000, "longer"),
])  # fmt: skip
def test_what_is_no_list_of_objects_is_told(text, said):
    with pytest.raises(NotAList) as answer:
        list(objects(io.BytesIO(text), 1_000_000))
    assert any(word in str(answer.value) for word in said.split("|")), answer.value


def test_no_more_of_a_long_list_is_read_than_is_asked_for():
    file = io.BytesIO(b"[" + b",".join([b'{"a": 1}'] * 1_000_000) + b"]")
    next(iter(objects(file, 1000)))
    assert file.tell() <= 2 * json_list.PIECE
