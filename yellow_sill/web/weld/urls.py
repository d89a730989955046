from django.urls import path

from .views import checks, hot, joints, pull, shop, weld

app_name = "weld"
_ALL = "v/<int:vehicle_id>/"
_ONE = f"{_ALL}repairs/<int:number>/"
urlpatterns = [
    path(f"{_ALL}settings-book/", shop.book, name="book"),
    path(f"{_ALL}settings-book/<int:number>/photo/", shop.coupon_photo, name="coupon_photo"),
    path(f"{_ALL}consumables/", shop.shop, name="shop"),
    path(f"{_ALL}hot-work/", hot.hot, name="hot"),
    path(f"{_ONE}joints/", joints.joints, name="joints"),
    path(f"{_ONE}weld/pull/", pull.pull, name="pull"),
    path(f"{_ONE}weld/checks/", checks.checks, name="checks"),
    path(f"{_ONE}weld/", weld.weld, name="weld"),
    path(f"{_ONE}weld/<int:cut_number>/heat/", weld.heat, name="heat"),
    path(f"{_ONE}weld/<int:cut_number>/steps/", weld.steps, name="steps"),
    path(f"{_ONE}weld/<int:cut_number>/cautions/", weld.cautions, name="cautions"),
]
