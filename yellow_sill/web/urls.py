from django.urls import include, path

urlpatterns = [
    path("", include("yellow_sill.web.today.urls")),
    path("", include("yellow_sill.web.frame.urls")),
    path("", include("yellow_sill.web.accounts.urls")),
    path("", include("yellow_sill.web.keeping.urls")),
    path("", include("yellow_sill.web.shells.urls")),
    path("", include("yellow_sill.web.survey.urls")),
    path("", include("yellow_sill.web.datums.urls")),
    path("", include("yellow_sill.web.hold.urls")),
    path("", include("yellow_sill.web.logbook.urls")),
    path("", include("yellow_sill.web.repairs.urls")),
    path("", include("yellow_sill.web.cut.urls")),
    path("", include("yellow_sill.web.patch.urls")),
    path("", include("yellow_sill.web.weld.urls")),
    path("", include("yellow_sill.web.protect.urls")),
    path("", include("yellow_sill.web.parts.urls")),
    path("", include("yellow_sill.web.strip.urls")),
    path("", include("yellow_sill.web.order.urls")),
    path("", include("yellow_sill.web.record.urls")),
]
handler404 = "yellow_sill.web.frame.views.not_found"
handler500 = "yellow_sill.web.frame.views.broken"
