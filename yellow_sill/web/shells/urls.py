from django.urls import path

from .views import changes, correct, people, vehicle

app_name = "shells"
urlpatterns = [
    path("people/", people.page, name="people"),
    path("vehicles/", vehicle.vehicles, name="vehicles"),
    path("vehicles/new/", vehicle.new, name="new"),
    path("vehicles/new/preview/", vehicle.preview, name="preview"),
    path("vehicles/from-file/", vehicle.from_file, name="from_file"),
    path("shell-schema.json", vehicle.schema, name="schema"),
    path("v/<int:vehicle_id>/changes/", changes.history, name="changes"),
    path("v/<int:vehicle_id>/revision/", changes.revision, name="revision"),
    path("v/<int:vehicle_id>/shell.json", vehicle.shell_file, name="file"),
    path("v/<int:vehicle_id>/shell/<slug:view_name>/", correct.correct, name="correct"),
]
