"""Addresses of the editor's screens."""

from django.urls import path

from innerhop.screens.bring_in import views as bring_in
from innerhop.screens.frame import views as frame
from innerhop.screens.hand_over import copy_views as copying
from innerhop.screens.hand_over import views as hand_over
from innerhop.screens.map import views as site_map
from innerhop.screens.page import hop_views as hops
from innerhop.screens.page import mark_views as marks
from innerhop.screens.page import views as page
from innerhop.screens.pages import views as pages
from innerhop.screens.sites import views as sites

urlpatterns = [
    path("", sites.list_sites, name="sites"),
    path("sign-in/", frame.SignIn.as_view(), name="sign-in"),
    path("sign-in/demo/", frame.sign_in_demo, name="sign-in-demo"),
    path("sign-out/", frame.SignOut.as_view(), name="sign-out"),
    path("<slug:slug>/", pages.list_pages, name="pages"),
    path("<slug:slug>/settings/", sites.settings, name="settings"),
    path("<slug:slug>/find/", frame.find, name="find"),
    path("<slug:slug>/bring-in/", bring_in.form, name="bring-in"),
    path("<slug:slug>/bring-in/files/", bring_in.send_files, name="send-files"),
    path("<slug:slug>/bring-in/markup/", bring_in.send_markup, name="send-markup"),
    path("<slug:slug>/bring-in/<int:pk>/", bring_in.arrival, name="arrival"),
    path("<slug:slug>/map/", site_map.show, name="map"),
    path("<slug:slug>/hand-over/", hand_over.overview, name="hand-over"),
    path("<slug:slug>/hand-over/site.zip", hand_over.site_file, name="site-file"),
    path("<slug:slug>/hand-over/copy-sheet/", copying.show_copy_sheet, name="copy-sheet"),
    path("<slug:slug>/hand-over/copy-sheet.<str:kind>", copying.copy_sheet_file, name="copy-file"),
    path("<slug:slug>/hand-over/moves.csv", copying.moves_file, name="moves-file"),
    path("<slug:slug>/<int:pk>/tick/", copying.tick, name="tick"),
    path("<slug:slug>/<int:pk>/", page.page_screen, name="page"),
    path("<slug:slug>/<int:pk>/state/", page.state, name="state"),
    path("<slug:slug>/<int:pk>/visit/", page.visit, name="visit"),
    path("<slug:slug>/<int:pk>/look-at/", marks.LookAt.as_view(), name="look-at"),
    path("<slug:slug>/<int:pk>/to-words/", marks.ToWords.as_view(), name="to-words"),
    path("<slug:slug>/<int:pk>/check-id/", marks.CheckId.as_view(), name="check-id"),
    path("<slug:slug>/<int:pk>/check-many/", marks.CheckMany.as_view(), name="check-many"),
    path("<slug:slug>/<int:pk>/mark/", marks.MarkElements.as_view(), name="mark"),
    path("<slug:slug>/<int:pk>/marker/", marks.PutMarker.as_view(), name="marker"),
    path("<slug:slug>/<int:pk>/move/", marks.MoveMark.as_view(), name="move"),
    path("<slug:slug>/<int:pk>/rename/", marks.RenameMark.as_view(), name="rename"),
    path("<slug:slug>/<int:pk>/take-away/", marks.TakeAwayMark.as_view(), name="take-away"),
    path("<slug:slug>/<int:pk>/heading/", marks.MakeHeading.as_view(), name="heading"),
    path("<slug:slug>/<int:pk>/rank/", marks.ChangeRank.as_view(), name="rank"),
    path("<slug:slug>/<int:pk>/in-class/", marks.InClass.as_view(), name="in-class"),
    path("<slug:slug>/<int:pk>/from-class/", marks.FromClass.as_view(), name="from-class"),
    path("<slug:slug>/<int:pk>/seal/", marks.SealRegion.as_view(), name="seal"),
    path("<slug:slug>/<int:pk>/check-words/", hops.CheckWords.as_view(), name="check-words"),
    path("<slug:slug>/<int:pk>/check-part/", hops.CheckPart.as_view(), name="check-part"),
    path("<slug:slug>/<int:pk>/hop/", hops.MakeHop.as_view(), name="hop"),
    path("<slug:slug>/<int:pk>/link-part/", hops.LinkPart.as_view(), name="link-part"),
    path("<slug:slug>/<int:pk>/put-link/", hops.PutLink.as_view(), name="put-link"),
    path("<slug:slug>/<int:pk>/retarget/", hops.RetargetHop.as_view(), name="retarget"),
    path("<slug:slug>/<int:pk>/reopen/", hops.ReopenHop.as_view(), name="reopen"),
    path("<slug:slug>/<int:pk>/convert/", hops.ConvertHops.as_view(), name="convert"),
    path("<slug:slug>/<int:pk>/smooth/", page.MakeSmooth.as_view(), name="smooth"),
    path("<slug:slug>/<int:pk>/undo/", page.TurnRound.as_view(), name="undo"),
    path("<slug:slug>/<int:pk>/redo/", page.TurnRound.as_view(undone=False), name="redo"),
    path("<slug:slug>/<int:pk>/measure/", page.KeepMeasure.as_view(), name="measure"),
    path("<slug:slug>/<int:pk>/address/", page.CorrectAddress.as_view(), name="address"),
    path("<slug:slug>/<int:pk>/move-page/", page.MovePage.as_view(), name="move-page"),
    path("<slug:slug>/<int:pk>/difference/", hand_over.page_difference, name="difference"),
    path("<slug:slug>/<int:pk>/file/", hand_over.page_file, name="page-file"),
]
