from django.urls import path

from .views import card, fit, opening, patch, stock, sums, transfer

app_name = "patch"
_ONE = "v/<int:vehicle_id>/repairs/<int:number>/"
urlpatterns = [
    path(f"{_ONE}marks/", transfer.transfer, name="transfer"),
    path(
        f"{_ONE}marks/<int:cut_number>/<int:mark_number>/delete/",
        transfer.delete_transfer,
        name="delete_transfer",
    ),
    path(f"{_ONE}patch/", patch.patch, name="patch"),
    path(f"{_ONE}opening/", opening.opening, name="opening"),
    path(f"{_ONE}fit/", fit.fit, name="fit"),
    path(f"{_ONE}fit/<int:cut_number>/<int:offer_number>/<slug:name>.<slug:form>", fit.strip, name="strip"),
    path(f"{_ONE}card/", card.card, name="card"),
    path(f"{_ONE}patch/<int:cut_number>/preview/", patch.preview, name="preview"),
    path(f"{_ONE}patch/<int:cut_number>/folded/", patch.folded, name="folded"),
    path("v/<int:vehicle_id>/stock/", stock.stock, name="stock"),
    path("v/<int:vehicle_id>/stock/nest/", stock.nest, name="nest"),
    path("v/<int:vehicle_id>/stock/nest/<slug:key>/", stock.progress, name="nest_progress"),
    path("v/<int:vehicle_id>/stock/nest/<slug:key>/keep/", stock.keep, name="keep_plan"),
    path("v/<int:vehicle_id>/stock/plan/<int:number>/", stock.plan, name="plan"),
    path(
        "v/<int:vehicle_id>/stock/plan/<int:number>/plan.<slug:form>", stock.plan_download, name="plan_file"
    ),
    path("v/<int:vehicle_id>/bench/", sums.sums, name="sums"),
    path(
        "v/<int:vehicle_id>/bench/<int:number>/<slug:sheet>.<slug:form>", sums.sum_download, name="sum_file"
    ),
    path(f"{_ONE}patch/<int:cut_number>/pattern.<slug:form>", patch.download, name="pattern"),
]
