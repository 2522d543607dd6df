"""Addresses under the editor's host names."""

from django.urls import include, path

urlpatterns = [path("", include("innerhop.screens.urls"))]
handler404 = "innerhop.screens.frame.views.not_found"
handler500 = "innerhop.screens.frame.views.failed"
