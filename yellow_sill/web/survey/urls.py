from django.urls import path

from . import views

app_name = "survey"
urlpatterns = [
    path("v/<int:vehicle_id>/survey/", views.survey, name="survey"),
    path("v/<int:vehicle_id>/survey/check/", views.check, name="check"),
    path("v/<int:vehicle_id>/survey/finding/<int:number>/", views.finding, name="finding"),
    path("v/<int:vehicle_id>/survey/finding/<int:number>/delete/", views.delete, name="delete"),
    path("v/<int:vehicle_id>/survey/<slug:view_name>/", views.board, name="board"),
    path("v/<int:vehicle_id>/survey/<slug:view_name>/new/", views.new, name="new"),
]
