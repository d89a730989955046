from django.urls import path

from .views import board, finding, grid, listing, panel, photo

app_name = "survey"
_HERE, _ONE, _PANEL, _PHOTO = (
    "v/<int:vehicle_id>/survey/",
    "finding/<int:number>/",
    "panel/<int:pk>/",
    "photo/<int:pk>/",
)
urlpatterns = [
    path(_HERE, board.survey, name="survey"),
    path(f"{_HERE}check/", finding.check, name="check"),
    path(f"{_HERE}list/", listing.listing, name="list"),
    path(f"{_HERE}compare/", listing.compare, name="compare"),
    path(f"{_HERE}report/", listing.report, name="report"),
    path(f"{_HERE}report.pdf", listing.report_pdf, name="report_pdf"),
    path(f"{_HERE}survey.<slug:form>", listing.table, name="table"),
    path(f"{_HERE}take-in/", listing.take_in, name="take_in"),
    path(f"{_HERE}take-back/<int:pk>/", listing.take_back, name="take_back"),
    path(f"{_HERE}looked-back/", board.looked_back, name="looked_back"),
    path(f"{_HERE}{_ONE}", finding.finding, name="finding"),
    path(f"{_HERE}{_ONE}delete/", finding.delete, name="delete"),
    path(f"{_HERE}{_ONE}overrule/", finding.overruled, name="overrule"),
    path(f"{_HERE}{_ONE}grid/", grid.grid, name="grid"),
    path(f"{_HERE}{_ONE}grid/reading/", grid.reading, name="reading"),
    path(f"{_HERE}{_ONE}grid/pitch/", grid.pitch, name="pitch"),
    path(f"{_HERE}{_PANEL}", panel.panel, name="panel"),
    path(f"{_HERE}{_PANEL}item/", panel.item, name="item"),
    path(f"{_HERE}{_PANEL}looked/", board.looked_panel, name="looked_panel"),
    path(f"{_HERE}{_PANEL}photo/", photo.add, name="photo_add"),
    path(f"{_HERE}{_PHOTO}", photo.photo, name="photo"),
    path(f"{_HERE}{_PHOTO}picture.jpg", photo.photo_file, name="photo_file"),
    path(f"{_HERE}{_PHOTO}check/", photo.photo_check, name="photo_check"),
    path(f"{_HERE}{_PHOTO}delete/", photo.photo_delete, name="photo_delete"),
    path(f"{_HERE}<slug:view_name>/", board.board, name="board"),
    path(f"{_HERE}<slug:view_name>/looked/", board.looked, name="looked"),
    path(f"{_HERE}<slug:view_name>/new/", finding.new, name="new"),
]
