"""Addresses under the visitor's host names. All but `/-/` is the site's own."""

from django.urls import path

from innerhop.visitor import views, walking

urlpatterns = [
    path("-/enter", views.enter),
    path("-/sheet.js", views.sheet_script),
    path("-/looker.js", walking.looker_script),
    path("-/look", walking.looker),
    path("-/sheet/<str:token>/<path:path>", views.sheet),
    path("-/sheet/<str:token>/", views.sheet, {"path": ""}),
    path("", views.visit, {"path": ""}),
    path("<path:path>", views.visit),
]
