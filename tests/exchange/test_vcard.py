"""Owners as vCards, read back by vobject."""

import vobject
from hypothesis import given
from hypothesis import strategies as st

from jentrik.exchange.vcard import Owner, vcards

WORDS = st.text(
    st.characters(exclude_categories=("Cc", "Cs", "Zl", "Zp"), exclude_characters="\x85"),
    min_size=1,
).filter(lambda text: text.strip() == text)


@given(name=WORDS, phone=WORDS, machines=st.lists(WORDS, max_size=4))
def test_a_card_reads_back_as_it_was(name: str, phone: str, machines: list[str]) -> None:
    text = vcards(
        [Owner(name, phone, tuple(machines)), Owner("Ida", "", ("Tourer",))], shop="0a1b2c3d"
    )
    assert all(len(line.encode()) <= 75 for line in text.split("\r\n"))
    first, second = vobject.readComponents(text)
    assert first.fn.value == name
    assert first.tel.value == phone
    assert first.note.value == ", ".join(machines)
    assert (second.fn.value, "tel" in second.contents) == ("Ida", False)
    again = vobject.readComponents(vcards([Owner("ida", "1", ())], shop="0a1b2c3d"))
    other = vobject.readComponents(vcards([Owner("Ida", "", ())], shop="4e5f6071"))
    assert second.uid.value == next(again).uid.value != next(other).uid.value


def test_letters_with_a_meaning_are_escaped() -> None:
    text = vcards([Owner("Näve; Sons, Ltd\\", "+49 40 1", ("A\nB",))], shop="0a1b2c3d")
    assert "FN:Näve\\; Sons\\, Ltd\\\\\r\n" in text
    assert "NOTE:A\\nB\r\n" in text
