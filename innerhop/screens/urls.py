"""Addresses of the editor's screens."""

from django.templatetags.static import static
from django.urls import include, path
from django.views.generic import RedirectView

from innerhop.screens.accounts import views as accounts
from innerhop.screens.acts import views as acts
from innerhop.screens.bring_in import views as bring_in
from innerhop.screens.findings import views as findings
from innerhop.screens.frame import health, metrics
from innerhop.screens.frame import views as frame
from innerhop.screens.hand_over import copy_views as copying
from innerhop.screens.hand_over import views as hand_over
from innerhop.screens.history import told as history_told
from innerhop.screens.history import views as history
from innerhop.screens.jobs import views as jobs
from innerhop.screens.live import mails, there, told
from innerhop.screens.live import views as live
from innerhop.screens.map import views as site_map
from innerhop.screens.menus import views as menus
from innerhop.screens.news import views as news
from innerhop.screens.page import views as page
from innerhop.screens.pages import views as pages
from innerhop.screens.passing_on import views as passing_on
from innerhop.screens.people import views as people
from innerhop.screens.rehearsal import views as rehearsal
from innerhop.screens.removal import views as removal
from innerhop.screens.sites import views as sites

urlpatterns = [
    path("", sites.list_sites, name="sites"),
    path("favicon.ico", RedirectView.as_view(url=static("icon.svg"))),  # some ask for it
    path("sign-in/", frame.SignIn.as_view(), name="sign-in"),
    path("sign-in/token/", frame.token, name="token"),
    path("sign-in/demo/", frame.sign_in_demo, name="sign-in-demo"),
    path("sign-out/", frame.SignOut.as_view(), name="sign-out"),
    # No site's name is made of a hyphen alone.
    path("-/alive/", health.alive, name="alive"),
    path("-/ready/", health.ready, name="ready"),
    path("-/metrics/", metrics.metrics, name="metrics"),
    path("-/account/", accounts.account, name="account"),
    path("-/account/leave/", accounts.leave, name="leave"),
    path("-/account/login/", frame.SignIn.as_view(), name="account_login"),
    path("-/account/", include("allauth.urls")),
    path("-/join/<str:key>/", accounts.join, name="join"),
    path("-/mails/", mails.mails, name="mails"),
    path("-/feeds/<slug:key>.atom", told.Broke(), name="feed"),
    path(
        "-/feeds/<slug:key>/<slug:own>/history.atom",
        history_told.HistoryFeed(),
        name="history-feed",
    ),
    path("<slug:slug>/", pages.list_pages, name="pages"),
    path("<slug:slug>/settings/", sites.settings, name="settings"),
    path("<slug:slug>/people/", people.show, name="people"),
    path("<slug:slug>/delete/", removal.delete_site, name="delete-site"),
    path("<slug:slug>/have-back/", removal.site_back, name="site-back"),
    path("<slug:slug>/files/", removal.files, name="files"),
    path("<slug:slug>/files/<int:pk>/delete/", removal.delete_file, name="delete-file"),
    path("<slug:slug>/files/<int:pk>/have-back/", removal.file_back, name="file-back"),
    path("<slug:slug>/<int:pk>/delete/", removal.delete_page, name="delete-page"),
    path("<slug:slug>/<int:pk>/have-back/", removal.page_back, name="page-back"),
    path("<slug:slug>/find/", frame.find, name="find"),
    path("<slug:slug>/bring-in/", bring_in.form, name="bring-in"),
    path("<slug:slug>/bring-in/files/", bring_in.send_files, name="send-files"),
    path("<slug:slug>/bring-in/markup/", bring_in.send_markup, name="send-markup"),
    path("<slug:slug>/bring-in/address/", bring_in.suggest_address, name="suggest-address"),
    path("<slug:slug>/bring-in/fetch/", bring_in.fetch, name="fetch"),
    path("<slug:slug>/bring-in/<int:pk>/", bring_in.came_in, name="came-in"),
    path("<slug:slug>/bring-in/<int:pk>/draw/", bring_in.draw, name="draw"),
    path("<slug:slug>/bring-in/<int:pk>/account/", bring_in.brought, name="brought"),
    path("<slug:slug>/bring-in/<int:pk>/there/", news.show, name="news"),
    path("<slug:slug>/bring-in/<int:pk>/there/choose/", news.choose, name="news-choose"),
    path("<slug:slug>/bring-in/<int:pk>/there/leave/", news.leave, name="news-leave"),
    path("<slug:slug>/bring-in/<int:pk>/there/take-in/", news.act, {"name": "take-in"}, "take-in"),
    path("<slug:slug>/bring-in/<int:pk>/there/moved/", news.act, {"name": "moved-there"}, "moved"),
    path("<slug:slug>/live/", live.show, name="live"),
    path("<slug:slug>/live/look/", live.look, name="look"),
    path("<slug:slug>/live/there/", there.show, name="there"),
    path("<slug:slug>/live/there/walk/", there.walk, name="walk-there"),
    path("<slug:slug>/live/settle/", told.settle, name="settle-live"),
    path("<slug:slug>/live/keep/<int:pk>/", live.keep, name="keep-there"),
    path("<slug:slug>/jobs/", jobs.list_jobs, name="jobs"),
    path("<slug:slug>/jobs/measure/", jobs.measure, name="measure-all"),
    path("<slug:slug>/jobs/now/", jobs.now, name="jobs-now"),
    path("<slug:slug>/jobs/<int:pk>/", jobs.show, name="job"),
    path("<slug:slug>/jobs/<int:pk>/now/", jobs.job_now, name="job-now"),
    path("<slug:slug>/jobs/<int:pk>/turn/", jobs.turn, name="job-turn"),
    path("<slug:slug>/findings/", findings.show, name="findings"),
    path("<slug:slug>/findings/places/", findings.places, name="finding-places"),
    path("<slug:slug>/findings/offers/", findings.offers, name="offers"),
    path("<slug:slug>/findings/aside/", findings.aside, name="findings-aside"),
    path("<slug:slug>/findings/set-aside/", findings.put_aside, name="set-aside"),
    path("<slug:slug>/findings/take-back/", findings.take_back, name="take-back"),
    path("<slug:slug>/findings/ask-for/", findings.ask_for, name="ask-for"),
    path("<slug:slug>/findings/file/<slug:kind>/", findings.as_file, name="findings-file"),
    path("<slug:slug>/findings/rules/", findings.rules, name="rules"),
    path("<slug:slug>/findings/rules/<slug:name>/", findings.rule, name="rule"),
    path("<slug:slug>/history/", history.show, name="history"),
    path("<slug:slug>/changes/", RedirectView.as_view(pattern_name="history")),  # as it was called
    path("<slug:slug>/history/turn/", history.turn, name="history-turn"),
    path("<slug:slug>/history.<str:kind>", history_told.as_file, name="history-file"),
    path("<slug:slug>/menus/", menus.show, name="menus"),
    path("<slug:slug>/menus/state/", menus.state, name="menus-state"),
    path("<slug:slug>/rehearsal/", rehearsal.show, name="rehearsal"),
    path("<slug:slug>/rehearsal/walker/", rehearsal.walker, name="walker"),
    path("<slug:slug>/rehearsal/unmeasured/", rehearsal.unmeasured, name="unmeasured"),
    path("<slug:slug>/rehearsal/to-measure/", rehearsal.to_measure, name="to-measure"),
    path("<slug:slug>/rehearsal/state/", rehearsal.state, name="rehearsal-state"),
    path("<slug:slug>/<int:pk>/layout/", rehearsal.layout, name="layout"),
    path("<slug:slug>/<int:pk>/walked/", rehearsal.walked, name="walked"),
    path("<slug:slug>/map/", site_map.show, name="map"),
    path("<slug:slug>/hand-over/", hand_over.overview, name="hand-over"),
    path("<slug:slug>/hand-over/site.zip", hand_over.site_file, name="site-file"),
    path("<slug:slug>/hand-over/copy-sheet/", copying.show_copy_sheet, name="copy-sheet"),
    path("<slug:slug>/hand-over/copy-sheet.<str:kind>", copying.copy_sheet_file, name="copy-file"),
    path("<slug:slug>/hand-over/moves.csv", copying.moves_file, name="moves-file"),
    path("<slug:slug>/<int:pk>/tick/", copying.tick, name="tick"),
    path("<slug:slug>/<int:pk>/", page.page_screen, name="page"),
    path("<slug:slug>/<int:pk>/catch-up/", page.catch_up, name="catch-up"),
    path("<slug:slug>/<int:pk>/here/", page.here, name="here"),
    path("<slug:slug>/<int:pk>/more-hops/", page.more_hops, name="more-hops"),
    path("<slug:slug>/<int:pk>/visit/", page.visit, name="visit"),
    path("<slug:slug>/<int:pk>/addresses/", passing_on.addresses, name="addresses"),
    path("<slug:slug>/<int:pk>/qr.<slug:kind>", passing_on.qr, name="qr"),
    path("<slug:slug>/<int:pk>/measure/", page.measure, name="measure"),
    path("<slug:slug>/<int:pk>/act/<slug:name>/", acts.act, name="act"),
    path("<slug:slug>/<int:pk>/ask/<slug:name>/", acts.ask, name="ask"),
    path("<slug:slug>/<int:pk>/undo/", acts.turn, {"undone": True}, name="undo"),
    path("<slug:slug>/<int:pk>/redo/", acts.turn, {"undone": False}, name="redo"),
    path("<slug:slug>/<int:pk>/difference/", hand_over.page_difference, name="difference"),
    path("<slug:slug>/<int:pk>/file/", hand_over.page_file, name="page-file"),
]
