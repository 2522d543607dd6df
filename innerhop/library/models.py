"""What is kept: sites and their pages, every text a page has had, every change,
and the index of sections, marks and links that whole-site questions are asked of.

Rows are written by the services beside this module and by nothing else.
"""

from __future__ import annotations

from django.contrib.auth.models import AbstractUser
from django.contrib.postgres.indexes import GinIndex, OpClass
from django.db import models
from django.db.models import F, Q
from django.db.models.functions import Left, Upper
from django.urls import reverse

from innerhop.core import style_lines
from innerhop.core.addresses import address_forms, urls
from innerhop.core.facts import places
from innerhop.core.findings.found import Found
from innerhop.core.findings.table import RULES
from innerhop.core.source.file_encoding import FileEncoding
from innerhop.library.querysets import VALUE_INDEXED, LinkQuerySet, MarkQuerySet


class Editor(AbstractUser):
    """Someone who edits the content of one or more sites."""

    @property
    def called(self) -> str:
        """What they are called: their whole name, or what they sign in with."""
        return self.get_full_name() or self.get_username()


class Present(models.Manager):  # type: ignore[type-arg]
    """What has not been deleted. A model's first manager is the one that is used for
    `site.pages` and the like, so what was deleted is nowhere, unless it is asked for."""

    def get_queryset(self) -> models.QuerySet[models.Model]:
        return super().get_queryset().filter(removed=None)


class Removable(models.Model):
    """What can be deleted, and be had back for a while (see `removal`).

    removed: when it was deleted, None while it is there. remover: who did it.
    """

    removed = models.DateTimeField(null=True, blank=True, editable=False)
    remover = models.ForeignKey(
        "library.Editor", null=True, blank=True, on_delete=models.SET_NULL, related_name="+"
    )

    objects = Present()
    everything = models.Manager()  # noqa: DJ012  (a manager too)

    class Meta:
        abstract = True


class Site(Removable):
    """A website, known by the address its readers type.

    own_letters: whether the IDs of its pages keep the letters of its language.
    hop_form: how hops to other pages are written unless one is to be otherwise; "" for the way
    of the site's own links, own_form. index_name: the file that stands for a folder's address
    in them, such as `index.html`; "" where they name the folder.
    back_words: what readers click to get back up, by language, where an editor chose it.
    frame: what pages that came as a body alone are seen in: `menu`, the primary key of a plan
    of one, `footer`, words; `out`, whether they are handed over in it. Empty for none.
    air: px between a header that stays in view and what comes below it, where room is made.
    rules_asked: the rules, by name, that are a matter of taste and looked for here.
    led_on: the addresses, by key, at which the site's own server sends readers on to others, as
    was seen when it was fetched.
    keeps_months: for so many months what was done can be taken back, 0 for always.
    daily: whether the site itself is looked at every morning; daily_from: when that was last begun,
    or set so. live_broke: how many of its hops
    led somewhere at an earlier look and lead nowhere now. feed_key: the secret part of its feed's
    address, "" where it has none.
    """

    name = models.CharField(max_length=120)
    slug = models.SlugField(max_length=50, unique=True)
    address = models.CharField(max_length=300)
    language = models.CharField(max_length=35, default="en")
    visitor_host = models.CharField(max_length=200, unique=True)
    own_letters = models.BooleanField(default=False)
    hop_form = models.CharField(max_length=8, blank=True, default="")
    own_form = models.CharField(max_length=8, default=address_forms.PATH)
    index_name = models.CharField(max_length=20, blank=True, default="")
    loose_addresses = models.BooleanField(default=True)
    back_words = models.JSONField(default=dict, blank=True)
    frame = models.JSONField(default=dict, blank=True)
    air = models.PositiveSmallIntegerField(default=style_lines.AIR)
    rules_asked = models.JSONField(default=list, blank=True)
    led_on = models.JSONField(default=dict, blank=True)
    keeps_months = models.PositiveSmallIntegerField(default=0, db_default=0)
    daily = models.BooleanField(default=False)
    daily_from = models.DateTimeField(null=True, blank=True)
    live_broke = models.PositiveIntegerField(default=0)
    feed_key = models.CharField(max_length=43, blank=True, default="")
    editors = models.ManyToManyField(Editor, through="Membership", related_name="sites")

    class Meta:
        ordering = ("name",)

    def __str__(self) -> str:
        return self.name

    def get_absolute_url(self) -> str:
        return reverse("pages", args=[self.slug])

    @property
    def form(self) -> str:
        """The form in which hops to other pages are written."""
        return self.hop_form or self.own_form

    def key_of(self, path: str) -> str:
        """What all addresses of one page have in common on this site."""
        return urls.page_key(path, self.loose_addresses)


class Membership(models.Model):
    """That somebody may see a site, and as whom. hands_over: whether they may take its pages
    out. mails: whether they are written to when hops broke there. was_here: when they last
    looked at its history; new_since: when they had before they came there this time."""

    class Role(models.TextChoices):
        """What somebody may do on a site: all, change its pages, see it."""

        OWNER = "owner", "Owner"
        EDITOR = "editor", "Editor"
        READER = "reader", "Reader"

    site = models.ForeignKey(Site, on_delete=models.CASCADE)
    editor = models.ForeignKey(Editor, on_delete=models.CASCADE)
    role = models.CharField(max_length=10, choices=Role.choices, default=Role.EDITOR)
    hands_over = models.BooleanField(default=True)
    mails = models.BooleanField(default=False)
    was_here = models.DateTimeField(null=True, blank=True)
    new_since = models.DateTimeField(null=True, blank=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["site", "editor"], name="member_once")]

    def __str__(self) -> str:
        return f"{self.editor} of {self.site}"


class Invitation(models.Model):
    """Somebody asked into a site, by mail. key: what the link in it is known by. accepted: when
    it was, by which editor; None while it waits."""

    site = models.ForeignKey(Site, on_delete=models.CASCADE, related_name="invitations")
    email = models.EmailField()
    role = models.CharField(max_length=10, choices=Membership.Role.choices)
    hands_over = models.BooleanField(default=True)
    inviter = models.ForeignKey(Editor, on_delete=models.CASCADE, related_name="+")
    key = models.CharField(max_length=64, unique=True)
    made = models.DateTimeField(auto_now_add=True)
    accepted = models.DateTimeField(null=True, blank=True)
    editor = models.ForeignKey(Editor, null=True, on_delete=models.SET_NULL, related_name="+")

    class Meta:
        ordering = ("pk",)

    def __str__(self) -> str:
        return f"{self.email} to {self.site}"


class Page(Removable):
    """A page of a site. Its text is that of its revision with number `revision`.

    file: where it stood among the files it came with, or "" when it was pasted.
    body_only: whether it is the body of a post, which its site puts in a frame.
    section_count, marked_count, broken_count: of its sections, of those that have a
    mark, and of its broken hops. lists, lists_off: how many contents lists it has, and how
    many differences these have from it. ways_back: of its links back up. indexed: which
    version of the index its rows are of. kept_for: the editors, by primary key, who alone change
    it beside the site's owners; empty for all.
    """

    site = models.ForeignKey(Site, on_delete=models.CASCADE, related_name="pages")
    path = models.CharField(max_length=1000)
    key = models.CharField(max_length=1000)
    file = models.CharField(max_length=1000, blank=True)
    title = models.CharField(max_length=500)
    body_only = models.BooleanField(default=False)
    language = models.CharField(max_length=35)
    base_href = models.TextField(null=True, blank=True)  # noqa: DJ001  (null: no base element)
    words = models.PositiveIntegerField(default=0)
    section_count = models.PositiveIntegerField(default=0)
    marked_count = models.PositiveIntegerField(default=0)
    broken_count = models.PositiveIntegerField(default=0)
    lists = models.PositiveIntegerField(default=0)
    lists_off = models.PositiveIntegerField(default=0)
    ways_back = models.PositiveIntegerField(default=0)
    revision = models.PositiveIntegerField(default=0)
    indexed = models.PositiveSmallIntegerField(default=0)
    kept_for = models.JSONField(default=list, blank=True)

    class Meta:
        ordering = ("path",)
        constraints = [
            models.UniqueConstraint(
                fields=["site", "key"], condition=Q(removed=None), name="one_page_an_address"
            )
        ]

    def __str__(self) -> str:
        return self.title

    def get_absolute_url(self) -> str:
        return reverse("page", args=[self.site.slug, self.pk])

    @property
    def address(self) -> str:
        """The whole address, as a visitor's browser shows it."""
        return self.site.address.rstrip("/") + self.path

    @property
    def base_address(self) -> str:
        """What its links are resolved against (HTML Standard #document-base-url)."""
        return urls.base_address(self.address, self.base_href)

    @property
    def keeps_hashes(self) -> bool:
        """Whether a bare `#id` on it stays on it: a `base` element may lead such links away."""
        return urls.resolve("#", self.base_address) == urls.resolve("#", self.address)


class Here(models.Model):
    """Somebody who has a page open. where: the title of the section that they are at, or ""."""

    page = models.ForeignKey(Page, on_delete=models.CASCADE, related_name="here")
    editor = models.ForeignKey(Editor, on_delete=models.CASCADE, related_name="+")
    where = models.CharField(max_length=500, blank=True)
    at = models.DateTimeField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["page", "editor"], name="here_once")]

    def __str__(self) -> str:
        return f"{self.editor} on {self.page}"


class WholeChanges(models.Manager["Change"]):
    """What editors did, each for itself."""

    def get_queryset(self) -> models.QuerySet[Change]:
        """All but what stands for several."""
        return super().get_queryset().exclude(act=Change.KEPT_AS_ONE)


class Change(models.Model):
    """One act of an editor, on one page or many. message: what it did, in the line that its
    editor saw before saving it, with what things were called then: History finds changes by it.
    effects: what it did beside writing texts (see `changes.effects`). section: the title of
    the section that all of it was done in, "" for none or several. act: which act it was, by
    its name in the table of acts; asked: what was asked of it. undone: when it was taken back,
    None while it stands; undoer: who did that. let_go: the pages, by primary key, that it wrote,
    where it is so old that it can't be taken back any more (see `changes.let_go`); else None."""

    site = models.ForeignKey(Site, on_delete=models.CASCADE, related_name="changes")
    author = models.ForeignKey(Editor, null=True, on_delete=models.SET_NULL)
    made = models.DateTimeField(auto_now_add=True)
    message = models.CharField(max_length=500)
    undone = models.DateTimeField(null=True, blank=True)
    undoer = models.ForeignKey(Editor, null=True, on_delete=models.SET_NULL, related_name="+")
    effects = models.JSONField(default=list, blank=True)
    section = models.CharField(max_length=500, default="", blank=True)
    act = models.CharField(max_length=40, default="", blank=True)
    asked = models.JSONField(default=dict, blank=True)
    let_go = models.JSONField(null=True, blank=True)

    objects = WholeChanges()
    everything = models.Manager()  # noqa: DJ012  (a manager too)
    KEPT_AS_ONE = "kept-as-one"  # the act of the one that stands for all that were let go

    class Meta:
        ordering = ("-pk",)

    def __str__(self) -> str:
        return self.message


class Written(models.Model):
    """A text, as the bytes of its file, and how its characters are written down in it."""

    content = models.BinaryField()
    label = models.CharField(max_length=40)
    codec = models.CharField(max_length=40)
    mark = models.BinaryField(default=b"", blank=True)

    class Meta:
        abstract = True

    @property
    def encoding(self) -> FileEncoding:
        """How the characters of `content` are written down."""
        return FileEncoding(self.label, self.codec, bytes(self.mark))


class Revision(Written):
    """A text that a page has had. content: None where it is told by an earlier one and the edits
    since (see `changes.kept_small`).

    number: None while it is prepared and not yet the page's. edits: what was done to
    the revision before, as [start, old, new]; None for the text that came in. change:
    the change that did it, or undid or redid it. came, carried: where what was done here was
    carried over to a text that came in again, that text, and the edits; else None. places: how
    far down the page some of its edits stand, from 0 to 1.
    """

    content = models.BinaryField(null=True)  # type: ignore[assignment]
    page = models.ForeignKey(Page, on_delete=models.CASCADE, related_name="revisions")
    number = models.PositiveIntegerField(null=True)
    edits = models.JSONField(null=True, blank=True)
    came = models.BinaryField(null=True)
    carried = models.JSONField(null=True, blank=True)
    places = models.JSONField(default=list, blank=True)
    change = models.ForeignKey(
        Change, null=True, on_delete=models.CASCADE, related_name="revisions"
    )
    made = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("number",)
        constraints = [models.UniqueConstraint(fields=["page", "number"], name="number_once")]

    def __str__(self) -> str:
        return f"{self.page} {self.number}"


# Rows of the index repeat the site of their page, so that it can be asked together with a
# word or an address. That page and site exist follows from how rows are written: with their
# page, held; and they go with it (`on_delete`). The database need not look for each of the
# hundred thousand rows that a page may bring, which takes a sixth of the time it comes in.


class Section(models.Model):
    """Index: a section of a page's current text. `number` is its heading's; where a bold
    line serves as one, level is 0, and 7 for the title of a part that opens."""

    page = models.ForeignKey(
        Page, on_delete=models.CASCADE, related_name="sections", db_constraint=False
    )
    site = models.ForeignKey(Site, on_delete=models.CASCADE, db_index=False, db_constraint=False)
    number = models.PositiveIntegerField()
    level = models.PositiveSmallIntegerField()
    depth = models.PositiveSmallIntegerField()
    title = models.CharField(max_length=500)
    mark = models.TextField(blank=True)
    words = models.PositiveIntegerField()

    class Meta:
        ordering = ("page", "number")
        indexes = [
            GinIndex(F("site"), OpClass(Upper("title"), "gin_trgm_ops"), name="section_title"),
            GinIndex(F("site"), OpClass(Upper("mark"), "gin_trgm_ops"), name="section_mark"),
        ]

    def __str__(self) -> str:
        return self.title


class Mark(models.Model):
    """Index: an ID, or the name of an `a`, in a page's current text. empty: whether
    its element is there for that only, an empty marker. closed: what
    `core.facts.hidden_parts` says of the part that it stands in. words: what the part
    is called (`core.facts.mark_words`); a heading is called by its section."""

    page = models.ForeignKey(
        Page, on_delete=models.CASCADE, related_name="marks", db_constraint=False
    )
    site = models.ForeignKey(Site, on_delete=models.CASCADE, db_index=False, db_constraint=False)
    number = models.PositiveIntegerField()
    attribute = models.CharField(max_length=4)
    value = models.TextField()
    tag = models.CharField(max_length=60)
    empty = models.BooleanField(default=False)
    closed = models.CharField(max_length=6, blank=True)
    words = models.CharField(max_length=100, blank=True, db_default="")

    objects = MarkQuerySet.as_manager()

    class Meta:
        ordering = ("page", "number")
        indexes = [
            # Values may be longer than an index can hold.
            models.Index(F("site"), Left("value", VALUE_INDEXED), name="mark_value"),
            GinIndex(F("site"), OpClass(Upper("value"), "gin_trgm_ops"), name="mark_words"),
            GinIndex(F("site"), OpClass(Upper("words"), "gin_trgm_ops"), name="mark_called"),
        ]

    def __str__(self) -> str:
        return self.value

    @property
    def what(self) -> str:
        """What kind of part it is, in plain words."""
        return "marker" if self.empty else places.kind_of_tag(self.tag)

    @property
    def called(self) -> str:
        """What an editor knows it by."""
        return self.words or f"A {self.what}"


class Link(models.Model):
    """Index: a link in a page's current text, and where it leads (`core.site.hops`).

    key: the page of this site that it leads to, "" when it leaves the site.
    fragment: the address's fragment as the URL Standard writes it, None when
    it has none. new_tab: whether it opens in another tab. permalink: whether it is a
    heading's link to itself. kind, end_page, end, why, opens: what becomes of a reader
    who follows it, renewed with every change of either page.
    """

    page = models.ForeignKey(
        Page, on_delete=models.CASCADE, related_name="links", db_constraint=False
    )
    number = models.PositiveIntegerField()
    href = models.TextField()
    text = models.TextField(blank=True)
    region = models.CharField(max_length=6, blank=True)
    site = models.ForeignKey(Site, on_delete=models.CASCADE, db_index=False, db_constraint=False)
    key = models.CharField(max_length=1000, blank=True)
    fragment = models.TextField(null=True, blank=True)  # noqa: DJ001  (null: no fragment at all)
    new_tab = models.BooleanField(default=False)
    permalink = models.BooleanField(default=False)
    kind = models.CharField(max_length=6, blank=True)
    end_page = models.ForeignKey(
        Page, null=True, on_delete=models.SET_NULL, related_name="arriving", db_index=False,
        db_constraint=False,
    )  # fmt: skip
    end = models.PositiveIntegerField(null=True)
    why = models.CharField(max_length=6, blank=True)
    opens = models.BooleanField(default=False)

    objects = LinkQuerySet.as_manager()

    class Meta:
        ordering = ("page", "number")
        indexes = [
            models.Index(fields=["site", "key"]),
            models.Index(fields=["site", "page"], condition=Q(kind="broken"), name="broken_hop"),
        ]

    def __str__(self) -> str:
        return self.href


class Region(models.Model):
    """Index: a region of a page's current text that other pages may have too.

    last: the number of the last element inside it. digest: the same on each page
    that has the same region.
    """

    page = models.ForeignKey(
        Page, on_delete=models.CASCADE, related_name="regions", db_constraint=False
    )
    site = models.ForeignKey(Site, on_delete=models.CASCADE, db_constraint=False)
    number = models.PositiveIntegerField()
    last = models.PositiveIntegerField()
    kind = models.CharField(max_length=6)
    digest = models.CharField(max_length=40)

    class Meta:
        ordering = ("page", "number")
        indexes = [models.Index(fields=["site", "digest"])]

    def __str__(self) -> str:
        return f"{self.kind} of {self.page}"


class Menu(models.Model):
    """Index: a list, or a line, of links in the site's frame, as a page's current text has
    it (`core.menus`).

    last: the number of the last element inside it. region: where on the page it stands.
    name: what the page calls it. lit: whether the item of the section that a reader is in is
    lit up as they scroll. digest: the same for what readers get as the same menu.
    items: its items as one text (`core.menus.item_rows`).
    """

    page = models.ForeignKey(
        Page, on_delete=models.CASCADE, related_name="menus", db_constraint=False
    )
    site = models.ForeignKey(Site, on_delete=models.CASCADE, db_index=False, db_constraint=False)
    number = models.PositiveIntegerField()
    last = models.PositiveIntegerField()
    region = models.CharField(max_length=6)
    name = models.CharField(max_length=100, blank=True)
    lit = models.BooleanField(default=False)
    digest = models.CharField(max_length=40)
    items = models.TextField()

    class Meta:
        ordering = ("page", "number")
        indexes = [models.Index(fields=["site", "digest"], name="menu_digest")]

    def __str__(self) -> str:
        return self.name or f"a menu of {self.page}"


class Trait(models.Model):
    """Index: something that only a page's text tells, and that findings need
    (`core.findings.traits`)."""

    page = models.ForeignKey(
        Page, on_delete=models.CASCADE, related_name="traits", db_constraint=False
    )
    site = models.ForeignKey(Site, on_delete=models.CASCADE, db_index=False, db_constraint=False)
    number = models.PositiveIntegerField()
    kind = models.CharField(max_length=20)
    told = models.CharField(max_length=500, blank=True)

    class Meta:
        ordering = ("page", "number")

    def __str__(self) -> str:
        return f"{self.kind} of {self.page}"


class SetAside(models.Model):
    """An editor's word that a finding is none here. page: None for the whole site. key: what
    the place is known by, on its page; "" for all of the rule."""

    site = models.ForeignKey(Site, on_delete=models.CASCADE, related_name="set_aside")
    page = models.ForeignKey(Page, null=True, on_delete=models.CASCADE, related_name="set_aside")
    rule = models.CharField(max_length=40)
    key = models.CharField(max_length=300, blank=True)
    reason = models.CharField(max_length=300, blank=True)
    editor = models.ForeignKey(Editor, null=True, on_delete=models.SET_NULL)
    made = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("-pk",)
        constraints = [
            models.UniqueConstraint(
                fields=["site", "page", "rule", "key"],
                name="aside_once",
                nulls_distinct=False,
            )
        ]

    def __str__(self) -> str:
        return f"{self.rule} {self.key}"


class FoundRow(models.Model):
    """What a rule found at a place (`core.findings.found.Found`)."""

    number = models.PositiveIntegerField()
    rule = models.CharField(max_length=40)
    cause = models.CharField(max_length=300, blank=True)
    words = models.CharField(max_length=200, blank=True)
    key = models.CharField(max_length=300, blank=True)
    told = models.JSONField(default=dict, blank=True)

    class Meta:
        abstract = True

    @property
    def found(self) -> Found:
        """The finding as its rule knows it."""
        return Found(self.rule, self.number, self.words, self.cause, self.told, self.key)


class Finding(FoundRow):
    """Index: something wrong, or risky, on a page (`core.findings.found.Found`), renewed with
    every change that can make it so, or mend it. aside: the word that it is none."""

    page = models.ForeignKey(
        Page, on_delete=models.CASCADE, related_name="findings", db_constraint=False
    )
    site = models.ForeignKey(Site, on_delete=models.CASCADE, db_index=False, db_constraint=False)
    aside = models.ForeignKey(
        SetAside, null=True, blank=True, on_delete=models.SET_NULL, related_name="findings"
    )

    class Meta:
        ordering = ("page", "number", "rule")
        indexes = [
            models.Index(
                fields=["site", "rule", "cause", "page"],
                condition=Q(aside=None),
                name="finding_by_cause",
            )
        ]

    def __str__(self) -> str:
        return f"{self.rule} on {self.page}"

    @property
    def is_on_link(self) -> bool:
        """Whether its element is a link."""
        return self.rule in RULES and RULES[self.rule].is_on_link


class LockedPart(models.Model):
    """That an editor said of a region: it comes from the site's own system, and
    can't be edited. `number` and `last` are carried along when the page changes.
    lifted: whether that was taken back, by a change that can be undone."""

    page = models.ForeignKey(Page, on_delete=models.CASCADE, related_name="locked_parts")
    number = models.PositiveIntegerField()
    last = models.PositiveIntegerField()
    lifted = models.BooleanField(default=False)

    class Meta:
        ordering = ("page", "number")

    def __str__(self) -> str:
        return f"{self.page} from {self.number} to {self.last}"


class Move(models.Model):
    """That a page got another address, with the change that let its hops follow.
    Readers and other sites may still come by the old one."""

    site = models.ForeignKey(Site, on_delete=models.CASCADE, related_name="moves")
    page = models.ForeignKey(Page, on_delete=models.CASCADE, related_name="moves")
    change = models.OneToOneField(Change, on_delete=models.CASCADE, related_name="move")
    old = models.CharField(max_length=1000)
    new = models.CharField(max_length=1000)

    class Meta:
        ordering = ("pk",)

    def __str__(self) -> str:
        return f"{self.old} to {self.new}"


class MenuPlan(models.Model):
    """A menu that lives in another system, kept here so that what to enter there is known.
    items: in order, each with its `label` and `depth`, and where it leads: `page` by primary
    key and `id`, or `outside`. gone: whether it was given up, by a change that can be undone.
    """

    site = models.ForeignKey(Site, on_delete=models.CASCADE, related_name="menu_plans")
    name = models.CharField(max_length=60)
    items = models.JSONField(default=list, blank=True)
    gone = models.BooleanField(default=False)

    class Meta:
        ordering = ("pk",)

    def __str__(self) -> str:
        return self.name


class Tick(models.Model):
    """That a step of a page's copy sheet has been done where the page lives. key:
    the step's own (see `hand_over.copy_sheet`)."""

    page = models.ForeignKey(Page, on_delete=models.CASCADE, related_name="ticks")
    key = models.CharField(max_length=40)
    editor = models.ForeignKey(Editor, null=True, on_delete=models.SET_NULL)
    made = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["page", "key"], name="ticked_once")]

    def __str__(self) -> str:
        return f"{self.page} {self.key}"


class Layout(models.Model):
    """How a page lies at one width as visitors get it, as a browser measured it: what
    landings are computed from (`core.landings`).

    view: of the page as a whole. targets: by ID or name, what hops may end at. worst: the
    worst verdict among these. off: by ID, the landings of hops that aren't clear, each with its
    verdict and what is said of it. revision: of the page, for which all this is so.
    """

    page = models.ForeignKey(Page, on_delete=models.CASCADE, related_name="layouts")
    revision = models.PositiveIntegerField()
    width = models.PositiveIntegerField()
    view = models.JSONField()
    targets = models.JSONField()
    worst = models.CharField(max_length=8, blank=True)
    off = models.JSONField(default=dict, blank=True)
    made = models.DateTimeField(auto_now=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["page", "width"], name="laid_out_once")]

    def __str__(self) -> str:
        return f"{self.page} at {self.width}"


class Walk(models.Model):
    """What became of a reader who followed a hop at one width: walked in a visitor's view.

    page, number, href: the link. revision, end_revision: of the pages that it stands on and
    leads to, for which this is so. agrees: whether it is as computed. trouble: where not, in
    one sentence. found: what was seen.
    """

    page = models.ForeignKey(Page, on_delete=models.CASCADE, related_name="walks")
    number = models.PositiveIntegerField()
    href = models.TextField()
    width = models.PositiveIntegerField()
    revision = models.PositiveIntegerField()
    end_page = models.ForeignKey(Page, null=True, on_delete=models.SET_NULL, related_name="+")
    end_revision = models.PositiveIntegerField(default=0)
    agrees = models.BooleanField()
    trouble = models.TextField(blank=True)
    found = models.JSONField(default=dict, blank=True)
    made = models.DateTimeField(auto_now=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["page", "number", "width"], name="walked_once")
        ]

    def __str__(self) -> str:
        return f"{self.href} on {self.page} at {self.width}"


class Asset(Removable):
    """A file that pages use: a style sheet, a picture, a script."""

    site = models.ForeignKey(Site, on_delete=models.CASCADE, related_name="assets")
    path = models.CharField(max_length=1000)
    content = models.BinaryField()
    media_type = models.CharField(max_length=120)
    size = models.PositiveIntegerField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["site", "path"], name="one_asset_a_path")]

    def __str__(self) -> str:
        return self.path


class Elsewhere(models.Model):
    """A file of another host that pages of a site fetch to look as they do: for the sheet alone,
    and never handed over. name: its host, path and query."""

    site = models.ForeignKey(Site, on_delete=models.CASCADE, related_name="elsewhere")
    name = models.CharField(max_length=1000)
    content = models.BinaryField()
    media_type = models.CharField(max_length=120)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["site", "name"], name="elsewhere_once")]

    def __str__(self) -> str:
        return self.name


class BringIn(models.Model):
    """One bringing in of pages, with what is to be said of it (see `bring_in`). change: what
    gave pages that were here already their new texts. gone: the pages, by primary key, that are
    known not to be there any more; None where nobody looked. drawn: those that only scripts
    draw."""

    site = models.ForeignKey(Site, on_delete=models.CASCADE, related_name="bring_ins")
    author = models.ForeignKey(Editor, null=True, on_delete=models.SET_NULL)
    made = models.DateTimeField(auto_now_add=True)
    pages = models.ManyToManyField(Page)
    assets = models.PositiveIntegerField(default=0)
    skipped = models.JSONField(default=list)
    notes = models.JSONField(default=list)
    change = models.ForeignKey(Change, null=True, on_delete=models.SET_NULL, related_name="+")
    gone = models.JSONField(null=True, blank=True)
    drawn = models.JSONField(default=list, blank=True)

    def __str__(self) -> str:
        return f"{self.site} {self.made:%Y-%m-%d %H:%M}"


class Job(models.Model):
    """Work that outlives a request (see `jobs`).

    kind: of the table of kinds; asked: what of it, as data. done, total: how far it is; total is
    0 where that isn't known. said: what it is at. message: how it ended, or why it stands.
    result: what became of it. runner: which run it is that works on it; beat: when that was last
    seen. stop: whether somebody asked it to stop. seen: whether its end was told to its editor.
    """

    class State(models.TextChoices):
        """Where a job is. From WAITS to RUNS; from there to one of the others, and back to WAITS
        where what ran it is gone. One that STOPPED or FAILED can be had WAIT again."""

        WAITS = "waits"
        RUNS = "runs"
        STOPPED = "stopped"
        FAILED = "failed"
        DONE = "done"

    site = models.ForeignKey(Site, on_delete=models.CASCADE, related_name="jobs")
    editor = models.ForeignKey(Editor, null=True, on_delete=models.SET_NULL)
    kind = models.CharField(max_length=20)
    asked = models.JSONField(default=dict, blank=True)
    state = models.CharField(max_length=8, choices=State.choices, default=State.WAITS)
    done = models.PositiveIntegerField(default=0)
    total = models.PositiveIntegerField(default=0)
    said = models.CharField(max_length=300, blank=True)
    message = models.TextField(blank=True)
    result = models.JSONField(default=dict, blank=True)
    runner = models.CharField(max_length=32, blank=True)
    beat = models.DateTimeField(null=True, blank=True)
    stop = models.BooleanField(default=False)
    seen = models.BooleanField(default=False)
    made = models.DateTimeField(auto_now_add=True)
    ended = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ("-pk",)
        indexes = [
            models.Index(
                fields=["site"],
                condition=Q(state__in=("waits", "runs")) | Q(seen=False),
                name="job_at_hand",
            )
        ]

    def __str__(self) -> str:
        return f"{self.kind} of {self.site}"

    @property
    def is_at_work(self) -> bool:
        """Whether it waits for its turn, or runs."""
        return self.state in (Job.State.WAITS, Job.State.RUNS)


class Look(models.Model):
    """One look at the site itself: how many of the things planned here were there as planned, were
    entered differently, were not there yet, and waited for another page; how many hops led
    nowhere, None where nobody counted yet. changed: the hops that broke since the look before, and
    those that work again (`live.there`)."""

    site = models.ForeignKey(Site, on_delete=models.CASCADE, related_name="looks")
    editor = models.ForeignKey(Editor, null=True, on_delete=models.SET_NULL)
    made = models.DateTimeField(auto_now_add=True)
    pages = models.PositiveIntegerField(default=0)
    there = models.PositiveIntegerField(default=0)
    differently = models.PositiveIntegerField(default=0)
    not_yet = models.PositiveIntegerField(default=0)
    waits = models.PositiveIntegerField(default=0)
    broken = models.PositiveIntegerField(null=True)
    changed = models.JSONField(default=list, blank=True)

    class Meta:
        ordering = ("-pk",)

    def __str__(self) -> str:
        return f"{self.site} {self.made:%Y-%m-%d %H:%M}"


class Seen(Written):
    """A page as it was there at the last look. why: why nothing was seen, "" where something was;
    the text is that of the look before then. gone: whether the site says that the page is not there
    any more. found: the keys of the steps of its copy sheet that
    are there (see `live`)."""

    page = models.OneToOneField(Page, on_delete=models.CASCADE, related_name="seen")
    look = models.ForeignKey(Look, on_delete=models.CASCADE, related_name="pages_seen")
    why = models.CharField(max_length=300, blank=True)
    found = models.JSONField(default=list, blank=True)
    gone = models.BooleanField(default=False)

    def __str__(self) -> str:
        return f"{self.page} as it is there"


class FoundThere(FoundRow):
    """Something wrong on a page as it is on the site, as of the last look (`Finding` for the
    rest). is_broken: whether it is a hop that leads nowhere. since: the look that saw it first.
    broke: whether it led somewhere at a look before that; why, todo, enter: then, what became of
    it (`core.live.breaking.Cause`)."""

    page = models.ForeignKey(Page, on_delete=models.CASCADE, related_name="found_there")
    site = models.ForeignKey(Site, on_delete=models.CASCADE, db_constraint=False)
    is_broken = models.BooleanField(default=False)
    since = models.ForeignKey(Look, on_delete=models.CASCADE, related_name="+")
    broke = models.BooleanField(default=False)
    why = models.CharField(max_length=300, blank=True)
    todo = models.CharField(max_length=300, blank=True)
    enter = models.TextField(blank=True)
    href = models.TextField(blank=True)

    class Meta:
        ordering = ("page", "number", "rule")

    def __str__(self) -> str:
        return f"{self.rule} on {self.page} as it is there"


class WalkedThere(models.Model):
    """What became of a reader who followed a hop of the site itself at one width.

    page, number, href, words: the link, as it was at the last look. verdict, says: where the view
    stops, as `core.landings` judges it; "" where that isn't known. trouble: what went otherwise, in
    a sentence. is_copy: whether the site let no browser in, and the page as fetched was walked."""

    page = models.ForeignKey(Page, on_delete=models.CASCADE, related_name="walked_there")
    site = models.ForeignKey(Site, on_delete=models.CASCADE, db_constraint=False)
    number = models.PositiveIntegerField()
    href = models.TextField()
    words = models.CharField(max_length=200, blank=True)
    width = models.PositiveIntegerField()
    verdict = models.CharField(max_length=8, blank=True)
    says = models.CharField(max_length=300, blank=True)
    trouble = models.CharField(max_length=300, blank=True)
    is_copy = models.BooleanField(default=False)
    made = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ("page", "number", "width")
        constraints = [
            models.UniqueConstraint(fields=["page", "number", "width"], name="walked_there_once")
        ]

    def __str__(self) -> str:
        return f"{self.href} on {self.page} at {self.width}, there"


class Staged(models.Model):
    """Something that came for a job and is not taken in yet.

    number: in the order in which it came. kind: `page`, `file`, or what was told: `from`, the
    site's own address; `same`, an address that leads on; `out`, one from which nothing came;
    `note`. name: its address, or the name of its file. more: the part of the site that was asked
    for; the address to which `same` leads; why there is nothing; the encoding or the media type
    that its server says. found: what is drawn of a page before it is taken in.
    asked: what was typed for a page beside its text.
    """

    job = models.ForeignKey(Job, on_delete=models.CASCADE, related_name="staged")
    number = models.PositiveIntegerField()
    kind = models.CharField(max_length=4)
    name = models.TextField()
    more = models.TextField(blank=True)
    content = models.BinaryField(null=True)
    found = models.JSONField(default=dict, blank=True)
    asked = models.JSONField(default=dict, blank=True)

    class Meta:
        ordering = ("number",)
        constraints = [models.UniqueConstraint(fields=["job", "number"], name="staged_once")]

    def __str__(self) -> str:
        return self.name


class NewText(Written):
    """A text that came in for a page that was worked on here, and waits until an editor says what
    is to become of it.

    number: the page's revision for which `found` is so: what was found of it (see
    `bring_in.news`). choices: by the key of each meeting, what is to stand; by "whole", whether
    all is to be as it is there or here. change: what took it in. left: whether it was said to
    stay out.
    """

    page = models.ForeignKey(Page, on_delete=models.CASCADE, related_name="new_texts")
    bring_in = models.ForeignKey(BringIn, on_delete=models.CASCADE, related_name="new_texts")
    number = models.PositiveIntegerField(default=0)
    found = models.JSONField(default=dict, blank=True)
    choices = models.JSONField(default=dict, blank=True)
    change = models.ForeignKey(Change, null=True, on_delete=models.SET_NULL, related_name="+")
    left = models.BooleanField(default=False)

    class Meta:
        ordering = ("page",)

    def __str__(self) -> str:
        return f"{self.page} anew"

    @property
    def waits(self) -> bool:
        """Whether somebody has to say yet what becomes of it."""
        return self.change_id is None and not self.left


class Measure(models.Model):
    """How tall a page is at one width, as a browser laid it out.

    tops: for each section's heading number, its top edge in CSS pixels. header: how
    much of the view's top is covered by what sticks there; padding: the room that
    the page's styles leave for it (scroll-padding-top). smooth: whether hops glide.
    """

    page = models.ForeignKey(Page, on_delete=models.CASCADE, related_name="measures")
    revision = models.PositiveIntegerField()
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    tops = models.JSONField()
    header = models.PositiveIntegerField(default=0)
    padding = models.PositiveIntegerField(default=0)
    smooth = models.BooleanField(default=False)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["page", "width"], name="measured_once")]

    def __str__(self) -> str:
        return f"{self.page} at {self.width}"
