from django.urls import path

from .views import find, line, metal

app_name = "record"
_ALL = "v/<int:vehicle_id>/"
urlpatterns = [
    path(f"{_ALL}find/", find.find, name="find"),
    path(f"{_ALL}time-line/", line.line, name="line"),
    path(f"{_ALL}metal/", metal.metal, name="metal"),
    path(f"{_ALL}time-line/at/", line.at, name="at"),
]
