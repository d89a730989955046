from django.urls import path

from .views import around, cut, options

app_name = "cut"
_ONE = "v/<int:vehicle_id>/repairs/<int:number>/"
urlpatterns = [
    path(f"{_ONE}propose/", cut.propose, name="propose"),
    path(f"{_ONE}cut/", cut.cut, name="cut"),
    path(f"{_ONE}cut/<int:cut_number>/check/", cut.check_moved, name="check"),
    path(f"{_ONE}cut/<int:cut_number>/stretches/", cut.say_stretch, name="stretches"),
    path(f"{_ONE}cut/<int:cut_number>/move/", cut.move, name="move"),
    path(f"{_ONE}cut/<int:cut_number>/redraw/", cut.redraw, name="redraw"),
    path(f"{_ONE}cut/<int:cut_number>/extent/", cut.extent, name="extent"),
    path(f"{_ONE}cut/<int:cut_number>/clearances/", cut.clearances, name="clearances"),
    path(f"{_ONE}options/", options.options, name="options"),
    path(f"{_ONE}options/own/", options.own, name="own"),
    path(f"{_ONE}release/", options.release, name="release"),
    path(f"{_ONE}release/<int:panel_id>/<int:nugget>/", options.tick, name="tick"),
    path(f"{_ONE}around/", around.around, name="around"),
    path(f"{_ONE}around/<int:pk>/delete/", around.delete_surrounding, name="delete_surrounding"),
]
