"""Words the assistant's rules go by: what questions are made of, what says how many, what denies."""

from __future__ import annotations

from typing import Literal

#: What a number may be of, besides things that are counted.
Measure = Literal["", "money", "length", "duration", "age", "share", "any"]


def words_in(line: str) -> frozenset[str]:
    """The words of a line, parted by spaces."""
    return frozenset(line.split())


#: Words of English questions that carry no content. The lists for word clouds hold many that do ("open", "sent").
FUNCTIONS = words_in(
    "a about after all also am an and any are as at be because been before being between both but by can could did do does doing "
    "done down during each either else for from had has have having he her hers him his how i if in into is it its itself just "
    "let like may me might more most must my no nor not of off on once one ones only or other others our ours out over own "
    "please same shall she should so some such than that the their theirs them then there these they this those through to "
    "too until up upon us was we were what whatever when where whether which while who whom whose why will with within "
    "would yet you your yours along among around above below besides per via get gets got give gives given "
    "gave make makes made want wants wanted mean means meant need needs go goes going went come comes came kind sort "
    "anybody anyone anything somebody someone something everybody everyone everything nobody nothing whether"
)
OF_AGE = words_in(", ( who is was are were aged age now of at only just about nearly turned will be ist alt")
#: What questions are made of: it orders answers, and need not stand in them.
GENERIC = words_in(
    "often long old far discuss discussed describe described mention mentioned talk talked portray "
    "portrayed "
    "text texts article articles role views people say says said saying many much "
    "think thinks thought believe believes believed feel feels felt opinion opinions according tell "
    "tells told explain explains happen happens happened number amount total share percentage proportion "
    "exactly ever reason reasons wieviel viele meinung sagen sagt sagte combien dire dit "
    "cuántos cuántas quanti quante hoeveel "
)
#: What is asked of texts as texts ("how is it reported?").
OF_TELLING = words_in("cover covered report reported frame framed see seen view viewed present presented")
PERSONS = words_in("i we he she they nobody somebody everybody everyone people")
#: Nouns that do not show that they are many.
PLURALS = words_in(
    "people children men women sheep deer lynx fish cattle mice geese salmon police oxen feet teeth "
)
NONE = words_in("no none kein keine keinen aucun aucune ningún ninguna nessun nessuna geen ")
ABOUT = words_in(
    "about around some roughly nearly almost over under approximately only exactly just etwa "
    "rund fast knapp environ presque quasi circa casi unos bijna ongeveer "
)
#: Before a number that tells how many of what was named before it.
TELLS = words_in(
    "is was are were at to of reached totals totalled numbered count stands "
    ": ( = ist war sind waren auf bei est sont était son "
    "es era "
)
#: May stand between a number and what is said of so many ("17 of them have been paid").
BETWEEN = words_in("have has had been were was are is be of them these those the since then also already ")
CALENDAR = words_in(
    "january february march april may june july august september october november december o'clock "
    "januar februar märz mai juni juli oktober dezember "
)
OF_MEASURE: dict[Measure, frozenset[str]] = {
    "money": words_in(
        "pound pounds euro euros dollar dollars pence crown crowns mark marks franc francs "
        "million millions billion £ € $ "
    ),
    "length": words_in(
        "metre metres meter meters kilometre kilometres km mile miles feet foot yard yards "
        "hectare hectares acre acres m cm square "
    ),
    "duration": words_in(
        "year years month months week weeks day days hour hours minute minutes decade "
        "decades century centuries generation generations jahr jahre jahren monate monaten wochen tage tagen "
        "stunden ans années mois semaines jours heures años meses semanas días anni mesi "
    ),
    "share": words_in("per percent % prozent pour "),
    "age": frozenset(),
    "any": frozenset(),
}
MEASURES = frozenset().union(*OF_MEASURE.values()) | words_in(
    "kilogram kilograms kilo kilos kg gram grams tonne tonnes ton tons litre litres pint pints gallon gallons degree degrees"
)
#: Words that deny, in the languages of the press here.
DENIALS = words_in(
    "no not never none nobody nothing neither nor cannot nowhere hardly nicht "
    "kein keine keinen keiner keines nie niemals niemand nichts ohne weder ne pas "
    "jamais rien personne aucun aucune sans ni nunca nadie nada ninguno ninguna sin "
    "tampoco non mai nessuno nessuna niente nulla senza niet geen nooit niets zonder "
)
#: Numbers that are written out.
NUMBERS = words_in(
    "two three four five six seven eight nine ten eleven twelve dozen twenty "
    "thirty forty fifty sixty seventy eighty ninety hundred thousand million half twice zwei "
    "drei vier fünf sechs sieben acht neun zehn elf zwölf hundert tausend deux "
    "trois quatre cinq sept huit neuf dix cent mille "
)
