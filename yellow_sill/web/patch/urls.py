from django.urls import path

from .views import card, patch, transfer

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
    path(f"{_ONE}card/", card.card, name="card"),
    path(f"{_ONE}patch/<int:cut_number>/preview/", patch.preview, name="preview"),
    path(f"{_ONE}patch/<int:cut_number>/folded/", patch.folded, name="folded"),
    path(f"{_ONE}patch/<int:cut_number>/pattern.<slug:form>", patch.download, name="pattern"),
]
