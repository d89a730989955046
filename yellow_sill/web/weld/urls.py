from django.urls import path

from .views import weld

app_name = "weld"
_ONE = "v/<int:vehicle_id>/repairs/<int:number>/"
urlpatterns = [
    path(f"{_ONE}weld/", weld.weld, name="weld"),
    path(f"{_ONE}weld/<int:cut_number>/heat/", weld.heat, name="heat"),
    path(f"{_ONE}weld/<int:cut_number>/steps/", weld.steps, name="steps"),
    path(f"{_ONE}weld/<int:cut_number>/cautions/", weld.cautions, name="cautions"),
]
