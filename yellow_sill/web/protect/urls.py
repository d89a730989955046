from django.urls import path

from .views import box, products, protect

app_name = "protect"
_ALL = "v/<int:vehicle_id>/"
_ONE = f"{_ALL}repairs/<int:number>/"
urlpatterns = [
    path(f"{_ALL}products/", products.products, name="products"),
    path(f"{_ONE}protect/", protect.protect, name="protect"),
    path(f"{_ONE}protect/closing/", box.box, name="box"),
]
