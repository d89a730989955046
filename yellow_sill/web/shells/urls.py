from django.urls import path

from .views import cavities, changes, correct, gaps, people, sheet, vehicle, whole

app_name = "shells"
urlpatterns = [
    path("people/", people.page, name="people"),
    path("vehicles/", vehicle.vehicles, name="vehicles"),
    path("vehicles/new/", vehicle.new, name="new"),
    path("vehicles/new/preview/", vehicle.preview, name="preview"),
    path("vehicles/from-photo/", vehicle.from_photo, name="from_photo"),
    path("vehicles/from-file/", vehicle.from_file, name="from_file"),
    path("shell-schema.json", vehicle.schema, name="schema"),
    path("v/<int:vehicle_id>/changes/", changes.history, name="changes"),
    path("v/<int:vehicle_id>/revision/", changes.revision, name="revision"),
    path("v/<int:vehicle_id>/shell.json", vehicle.shell_file, name="file"),
    path("v/<int:vehicle_id>/shell/<slug:view_name>/", correct.correct, name="correct"),
    path("v/<int:vehicle_id>/sheet/<slug:view_name>/<str:code>/", sheet.sheet, name="sheet"),
    path("v/<int:vehicle_id>/section/", whole.section, name="section"),
    path("v/<int:vehicle_id>/apart/<slug:view_name>/", whole.apart, name="apart"),
    path("v/<int:vehicle_id>/cavities/", cavities.cavities, name="cavities"),
    path("v/<int:vehicle_id>/gaps/", gaps.gaps, name="gaps"),
]
