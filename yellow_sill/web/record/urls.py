from django.urls import path

from .views import donors, dossier, find, line, metal, pairs, photos, quick, tables, taught

app_name = "record"
_ALL = "v/<int:vehicle_id>/"
urlpatterns = [
    path(f"{_ALL}find/", find.find, name="find"),
    path(f"{_ALL}write-down/", quick.quick, name="quick"),
    path(f"{_ALL}time-line/", line.line, name="line"),
    path(f"{_ALL}metal/", metal.metal, name="metal"),
    path(f"{_ALL}photos/", photos.photos, name="photos"),
    path(f"{_ALL}photos/known/", photos.known, name="photos_known"),
    path(f"{_ALL}photos/<int:pk>-small.jpg", photos.small, name="photo_small"),
    path(f"{_ALL}before-and-after/", pairs.pairs, name="pairs"),
    path(f"{_ALL}before-and-after/lay/", pairs.lay_over, name="lay"),
    path(f"{_ALL}bring-in/", tables.bring_in, name="bring_in"),
    path(f"{_ALL}donors/", donors.donors, name="donors"),
    path(f"{_ALL}bring-in/<int:pk>/", tables.table, name="table_in"),
    path(f"{_ALL}taught/", taught.page, name="taught"),
    path(f"{_ALL}handing-over/", dossier.dossiers, name="dossiers"),
    path(f"{_ALL}handing-over/progress/<str:key>/", dossier.progress, name="dossier_progress"),
    path(f"{_ALL}handing-over/<int:pk>/", dossier.file, name="dossier"),
    path("dossier/<str:token>/", dossier.given, name="given"),
    path(f"{_ALL}time-line/at/", line.at, name="at"),
]
