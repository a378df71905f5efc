"""Words beside lines and marks: each where it covers no other."""

from jentrik.web.drawing.labels import Labels


def test_a_word_goes_where_it_covers_no_other_and_stays_on_the_paper() -> None:
    labels = Labels((0, 0, 400, 200))
    wanted = [((10.0, 50.0), "start"), ((10.0, 50.0), "end"), ((10.0, 100.0), "start")]
    assert labels.place("as found", 15, wanted) == wanted[0]
    assert labels.place("winter", 15, wanted) == wanted[2]  # the second would leave the paper
    assert labels.place("neither", 15, wanted) == wanted[0]  # none is free: the best of them
    labels.keep_free((200, 0, 400, 200))
    sides = [((250.0, 150.0), "start"), ((190.0, 150.0), "end")]
    assert labels.place("A", 15, sides) == sides[1]


def test_larger_letters_need_more_room() -> None:
    for size, place in ((15, 0), (38, 1)):
        labels = Labels((0, 0, 400, 200))
        labels.keep_free((100, 0, 110, 200))
        offered = [((20.0, 50.0), "start"), ((150.0, 50.0), "start")]
        assert labels.place("as found", size, offered) == offered[place]
