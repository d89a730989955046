from django.urls import path

from . import entry_views, views, waited_views

app_name = "logbook"
_ONE = "v/<int:vehicle_id>/repairs/<int:number>/"
urlpatterns = [
    path("v/<int:vehicle_id>/logbook/", views.logbook, name="logbook"),
    path("v/<int:vehicle_id>/logbook/hours/", entry_views.vehicle_hours, name="hours"),
    path("v/<int:vehicle_id>/logbook/hours/<int:pk>/", entry_views.work, name="work"),
    path("v/<int:vehicle_id>/logbook/notes/<int:pk>/", entry_views.note, name="note"),
    path("v/<int:vehicle_id>/logbook/notes/<int:pk>/waited/", waited_views.note_changed, name="note_waited"),
    path(f"{_ONE}log/waited/", waited_views.added, name="waited"),
    path("v/<int:vehicle_id>/logbook/bundle.zip", views.export, name="export"),
    path("v/<int:vehicle_id>/logbook/<slug:table>.csv", views.table, name="table"),
    path("vehicles/import/", views.import_bundle, name="import"),
    path("bundle-schema.json", views.schema, name="schema"),
    path(f"{_ONE}log/", views.log, name="log"),
    path(f"{_ONE}log/photo/<int:pk>/delete/", views.delete_photo, name="delete_photo"),
    path(f"{_ONE}record/", views.record, name="record"),
    path(f"{_ONE}record.pdf", views.record_file_view, name="record_pdf"),
    path("v/<int:vehicle_id>/photo/<int:pk>.jpg", views.photo, name="photo"),
]
