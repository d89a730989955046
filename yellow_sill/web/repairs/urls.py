from django.urls import path

from .views import around, cut, options, patch, repair, rules, transfer, weld

app_name = "repairs"
_ONE = "v/<int:vehicle_id>/repairs/<int:number>/"
urlpatterns = [
    path("v/<int:vehicle_id>/repairs/", repair.repairs, name="repairs"),
    path("v/<int:vehicle_id>/repairs/new/", repair.new, name="new"),
    path("v/<int:vehicle_id>/repairs/rules/", rules.rules, name="rules"),
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
    path(f"{_ONE}marks/", transfer.transfer, name="transfer"),
    path(
        f"{_ONE}marks/<int:cut_number>/<int:mark_number>/delete/",
        transfer.delete_transfer,
        name="delete_transfer",
    ),
    path(f"{_ONE}patch/", patch.patch, name="patch"),
    path(f"{_ONE}patch/<int:cut_number>/preview/", patch.preview, name="preview"),
    path(f"{_ONE}patch/<int:cut_number>/pattern.<slug:form>", patch.download, name="pattern"),
    path(f"{_ONE}weld/", weld.weld, name="weld"),
    path(f"{_ONE}weld/<int:cut_number>/heat/", weld.heat, name="heat"),
    path(f"{_ONE}weld/<int:cut_number>/cautions/", weld.cautions, name="cautions"),
]
