// Made from innerhop/core/source/content_models.py: change that, then make this.
export const IN_LINE = new Set(["ABBR", "ACRONYM", "B", "BDI", "BDO", "BIG", "BR", "CITE", "CODE", "DATA", "DEL", "DFN", "EM", "FONT", "I", "INS", "KBD", "LABEL", "MARK", "NOBR", "Q", "RUBY", "S", "SAMP", "SMALL", "SPAN", "STRIKE", "STRONG", "SUB", "SUP", "TIME", "TT", "U", "VAR", "WBR"]);
export const AMONG_OWN_KIND = new Set(["CAPTION", "DD", "DT", "LI", "TBODY", "TD", "TFOOT", "TH", "THEAD", "TR"]);
