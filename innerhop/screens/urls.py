"""Addresses of the editor's screens."""

from django.urls import path

from innerhop.screens.bring_in import views as bring_in
from innerhop.screens.frame import views as frame
from innerhop.screens.hand_over import views as hand_over
from innerhop.screens.page import views as page
from innerhop.screens.pages import views as pages
from innerhop.screens.sites import views as sites

urlpatterns = [
    path("", sites.list_sites, name="sites"),
    path("sign-in/", frame.SignIn.as_view(), name="sign-in"),
    path("sign-in/demo/", frame.sign_in_demo, name="sign-in-demo"),
    path("sign-out/", frame.SignOut.as_view(), name="sign-out"),
    path("<slug:slug>/", pages.list_pages, name="pages"),
    path("<slug:slug>/find/", frame.find, name="find"),
    path("<slug:slug>/bring-in/", bring_in.form, name="bring-in"),
    path("<slug:slug>/bring-in/files/", bring_in.send_files, name="send-files"),
    path("<slug:slug>/bring-in/markup/", bring_in.send_markup, name="send-markup"),
    path("<slug:slug>/bring-in/<int:pk>/", bring_in.arrival, name="arrival"),
    path("<slug:slug>/hand-over/", hand_over.overview, name="hand-over"),
    path("<slug:slug>/hand-over/site.zip", hand_over.site_file, name="site-file"),
    path("<slug:slug>/<int:pk>/", page.page_screen, name="page"),
    path("<slug:slug>/<int:pk>/state/", page.state, name="state"),
    path("<slug:slug>/<int:pk>/visit/", page.visit, name="visit"),
    path("<slug:slug>/<int:pk>/check-id/", page.CheckId.as_view(), name="check-id"),
    path("<slug:slug>/<int:pk>/mark/", page.MarkSection.as_view(), name="mark"),
    path("<slug:slug>/<int:pk>/check-words/", page.CheckWords.as_view(), name="check-words"),
    path("<slug:slug>/<int:pk>/hop/", page.MakeHop.as_view(), name="hop"),
    path("<slug:slug>/<int:pk>/smooth/", page.MakeSmooth.as_view(), name="smooth"),
    path("<slug:slug>/<int:pk>/undo/", page.TurnRound.as_view(), name="undo"),
    path("<slug:slug>/<int:pk>/redo/", page.TurnRound.as_view(undone=False), name="redo"),
    path("<slug:slug>/<int:pk>/measure/", page.KeepMeasure.as_view(), name="measure"),
    path("<slug:slug>/<int:pk>/address/", page.SetAddress.as_view(), name="address"),
    path("<slug:slug>/<int:pk>/difference/", hand_over.page_difference, name="difference"),
    path("<slug:slug>/<int:pk>/file/", hand_over.page_file, name="page-file"),
]
