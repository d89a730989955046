from django.urls import path

from .views import board, book, rounds, stands

app_name = "datums"
_HERE, _ROUND, _POINT = "v/<int:vehicle_id>/datums/", "round/<int:number>/", "book/<slug:code>/"
urlpatterns = [
    path(_HERE, board.datums, name="datums"),
    path(f"{_HERE}turntable/", board.turn, name="turntable"),
    path(f"{_HERE}rounds/", rounds.rounds, name="rounds"),
    path(f"{_HERE}{_ROUND}", rounds.enter, name="round"),
    path(f"{_HERE}{_ROUND}state/", rounds.state, name="state"),
    path(f"{_HERE}{_ROUND}save/", rounds.save, name="save"),
    path(f"{_HERE}{_ROUND}strike/", rounds.strike_reading, name="strike"),
    path(f"{_HERE}{_ROUND}next/", rounds.next_ones, name="next"),
    path(f"{_HERE}{_ROUND}type-in/", rounds.type_in, name="type_in"),
    path(f"{_HERE}{_ROUND}sheet.pdf", rounds.sheet_pdf, name="sheet"),
    path(f"{_HERE}{_ROUND}correct/", rounds.correct, name="correct_round"),
    path(f"{_HERE}{_ROUND}delete/", rounds.delete, name="delete_round"),
    path(f"{_HERE}book/", book.book, name="book"),
    path(f"{_HERE}book/new/", book.new, name="new_point"),
    path(f"{_HERE}book/starting-set/", book.starting_set, name="starting_set"),
    path(f"{_HERE}book/trust/", book.trust, name="trust"),
    path(f"{_HERE}book.csv", book.table, name="table"),
    path(f"{_HERE}book/take-in/", book.take_in, name="take_in"),
    path(f"{_HERE}{_POINT}", book.point, name="point"),
    path(f"{_HERE}{_POINT}from-round/", book.from_round, name="from_round"),
    path(f"{_HERE}{_POINT}delete/", book.delete, name="delete_point"),
    path(f"{_HERE}stands/", stands.stands, name="stands"),
    path(f"{_HERE}<slug:view_name>/", board.board, name="board"),
]
