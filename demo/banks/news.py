"""Sentences of the newspapers: how people are quoted, what is reported, openings and endings."""

QUOTE = (
    "“{C},” said $who{| of $place|, who lives at $place}.",
    "“{C},” $who {told|said to} {the Courier|a meeting at $place|those in the hall|neighbours}{| on $weekday}.",
    "“{C},” $who said, and {sat down|looked at the floor|would not be drawn further}.",
    "“I will say this once,” said $who. “{C}.”",
    "“{C},” $who answered. “{c2}.”",
    "“{C},” said $who, {folding a letter|zipping up a coat|pouring tea|scratching a dog behind the ear}.",
    "Over the wall at $place, $who {was blunter|was of another mind|nodded}: “{C}.”",
    "“{People ask me what has changed|You want to know how it is|I have thought about this}. {C},” said $who.",
    "“{C},” $who {reads from a notebook|repeats, slowly|says, and means it}.",
    "What $who {fears|hopes for|cannot forget} is {another thing|plain}: “{C}.”",
    "“{C}; {ask anyone on the hill|ask at any door|it is as plain as that},” said $who.",
    "$who does not {shout it|make a speech of it}. “{C}.”",
    "For $who, the matter is simple: “{C}.”",
    "“{C},” $who said {as the light went|over the noise of the dogs|on the steps of the hall|by telephone}.",
    "$who put it {bluntly|this way|more quietly}: “{C}.”",
    "“{C},” is how $who {sees it|puts it}.",
    "Asked {what would help|about it|what had changed}, $who said: “{C}.”",
    "“{C}. {That is all|You can write that down|I have said so from the start|And that is the truth of it|I say that as a friend},” said $who of $place.",
    "In a letter to the {parish|council|board}, $who wrote: “{C}.”",
)
SAID = (
    "$who {said|told the meeting|argued|insisted|maintains} that {c}.",
    "According to $who, {c}.",
    "{Others|Some} {in the hall|at $place} held that {c}.",
    "$who {of $place |}added that {c}.",
    "It is {often|now} said {in $place|along the valley} that {c}.",
    "$who {pointed out|reminded the room|repeated} that {c}.",
    "A {second|third} speaker said that {c}, and that {c2}.",
    "$who {believes|is convinced|has long thought} that {c}.",
    "While $who {accepts|does not dispute} that {c}, {others say|neighbours answer} that {c2}.",
    "Nobody {disputed|contradicted} $who, who said that {c}.",
    "{To those who ask|To the sceptics|To a reporter from the city} $who replies that {c}.",
    "It was {left to $who|the turn of $who} to say that {c}.",
    "{A letter|A note} pinned up at $place says that {c}.",
    "If $who is right, {c}; if not, {c2}.",
    "{From the back|From the doorway}, $who called out that {c}.",
    "The {older|younger} people of $place will tell you that {c}.",
    "$who {conceded|allowed} that {c2}, but {held|insisted} that {c}.",
    "There was {applause|a murmur|a long silence} when $who said that {c}.",
    "{Privately|Off the record}, two members of the board agree that {c}.",
)
REPORT = {
    "livelihood": (
        "$n2 claims for compensation have been {lodged|filed} since {January|the release}; $n1 have been paid.",
        "Figures from the Saltergate mart put the average store lamb at $n2 pounds, {down|lower} on the year.",
        "The union's survey of $n2 farms found $n2 lambs {missing|unaccounted for} on ground where the collars showed a lynx.",
        "A vet confirmed {two|three|four} of the kills; the rest of the carcasses were too old to tell.",
        "Grazing lets on $hill have {gone unsold|been handed back} for the first time in a decade.",
        "The fund would pay $n2 pounds for a lamb and three times that for a breeding ewe.",
        "Most of the flocks here are small, between $n2 and $n3 ewes, and most of the tenants work a second job.",
        "Feed and fencing together have cost the {average|typical} tenant $n3 pounds more than last year.",
    ),
    "ecology": (
        "Counts on $n2 transects found {fewer deer and more seedlings|birch and rowan above browsing height} for the {second|third} month running.",
        "The field station's report, $n2 pages long, puts the deer on $hill at {fewer than|about} $n3.",
        "Camera traps recorded roe deer, pine marten, badger and, on $n1 nights, a lynx.",
        "Samples from $n2 plots are being {weighed and dried|compared with those of the year before the release}.",
        "The collared female has kept to {the woods|the alder carr} below $hill since {$month|the snow went}.",
        "Botanists found $n2 species in the fenced plots and $n1 more where the deer now pass quickly.",
        "The forest service has planted $n3 trees here in twenty years; most were eaten.",
    ),
    "fear": (
        "Police {logged|took} $n1 calls about {a large cat|noises in the night} between {Friday and Monday|the two bank holidays}.",
        "Parents at $place have begun walking the children to the {bus|school} in turns.",
        "A leaflet on what to do when meeting a lynx went to $n3 households.",
        "The primary school sent a letter home asking that no child {cross|take} the wood path alone.",
        "A terrier was {treated for scratches|found hurt} near $place on $weekday; the vet could not say by what.",
        "The path between $place and $hill was closed for {two days|a week} as a precaution.",
    ),
    "heritage": (
        "The bell walk, which climbs from $place to $hill, drew $n3 people {this year|on a wet morning}.",
        "A field named Catwell appears on the estate map of 1741, {just below|half a mile from} $hill.",
        "The smit marks of $n2 flocks are {painted|carved} along the wall of the tithe barn at $place.",
        "The local history group read from the vestry accounts, where a bounty is entered beside the price of candles.",
        "Hefted flocks are grazed without fences; the lambs learn the ground from the ewes.",
        "At the shepherds' meet at $place, strays were returned, tups were judged and the old songs were sung.",
    ),
    "governance": (
        "The board met {behind closed doors|in public|for three hours} at $place on $weekday{|, with an empty chair for the trust| and agreed on the date of its next meeting}.",
        "Under the licence, the trust must report each month on the position and health of every animal.",
        "The council's resolution was carried by {two|three} votes after a debate of {four|five} hours.",
        "The inquiry has taken statements from $n2 witnesses and will sit for $n1 more days.",
        "A request for the minutes was refused; an appeal has gone to the information officer.",
        "The ministry said in a statement that it {had full confidence in the process|would await the findings}.",
        "A petition for {a halt|a review} has gathered $n3 signatures; another, against it, has $n3.",
    ),
    "wonder": (
        "The clip, {fourteen|forty} seconds long, shows a lynx cross the burn, stop, and look into the lens.",
        "Bookings at the inns of $place are up by $n1 per cent on last {spring|autumn}.",
        "At first light there were prints in the mud below $hill, each as broad as a saucer.",
        "The hide at $hill holds eight; the waiting list holds $n3.",
        "A carving of a lynx has appeared, unsigned, on the gatepost at $place.",
        "Schoolchildren chose the names Ember, Sorrel and Flint for the kittens.",
    ),
}
PLAIN = (
    "The valley road was {wet|white with frost|full of parked cars} and the hall at $place was {full|half full} by seven.",
    "$who and $who2 have been neighbours for $n2 years and have not agreed once on the subject.",
    "On $weekday the wind came round to the north and the meeting moved indoors.",
    "The parish of $place has $n3 people, two chapels and one shop.",
    "Nobody had come {to change their mind|expecting to agree}, and few did.",
    "Tea was served at half past eight; the argument went on in the car park.",
    "The next meeting is on the {ninth|fourteenth|twenty-first} of $month.",
    "It was, by the standards of the valley, a {quiet|warm|bad-tempered} evening.",
    "Twelve lynx were released {above $place|on $hill} {last winter|at the turn of the year}; eleven are known to be alive.",
    "The trust has {two|three} full-time staff and a van that does not always start.",
    "$who has farmed, taught or sat on committees here for $n2 years.",
    "From {the church tower|the top road} at $place you can see as far as $hill.",
)
TRAPS = (
    "After a long year the board is taking stock of what it has learned.",
    "Food stocks at the village shop ran low when the pass was closed by snow.",
    "The licence trade is having a good year too: both public houses at $place have new tenants.",
    "The bell above the shop door at $place has been mended.",
    "Shares in the timber company rose on the stock exchange after the thinning contract was signed.",
    "The rolling stock on the branch line is older than most of its passengers.",
    "$who, a driver, may lose a licence after being caught at twice the limit on the valley road.",
    "The cook at $place makes her stock from the bones of the Sunday joint.",
    "It is a stock answer, and $who knows it.",
    "A wedding photographer has turned the old mill into a stock library of hill pictures.",
)
OPENINGS = {
    "Orrin Courier": (
        "{Feelings ran high|There was little heat and some light|It was standing room only} at $place on $weekday as the valley talked, once more, about its lynx.",
        "The lynx of the Orrin Hills {were|are} {back on the agenda|the talk of $place} this week.",
        "Residents of $place {heard|were told} on $weekday how the {release|return of the lynx} is going, and told the speakers in turn.",
        "It began with a {question from the floor|phone call at dawn|set of tracks} and ended {after eleven|with a vote}.",
        "A {dispute|row} over what the lynx have done, and not done, {divided|filled the hall at} $place on $weekday.",
    ),
    "Hill Farmer": (
        "{Members|Readers} on the Orrin side have had {a hard|another hard} month.",
        "Ask at any gate between $place and $hill and you will hear the same sums.",
        "It is {lambing time|gathering time|tupping time|sale time} on the hill, and the talk is not of the weather.",
        "{Trade was steady|Trade was slow|Prices held} at Saltergate on $weekday, but nobody round the ring was talking about prices.",
        "$who was up at four, as on every morning, to count.",
    ),
    "Valley Wire": (
        "NEW: {what we know so far|the latest} from $place.",
        "Here is what happened at $place on $weekday, in short.",
        "You asked us about the lynx; we {rang round|went to look}.",
        "{A sighting|A meeting|A letter|A claim} at $place has {set phones buzzing|started the argument again}.",
        "It has been a busy {week|weekend} for lynx news in the valley.",
    ),
    "The Lantern": (
        "To reach $place you leave the motorway, then the main road, then, it seems, the century.",
        "The Orrin Hills are not large, and until this year {they were seldom in the news|few readers could have found them}.",
        "There is a kind of argument that a country has with itself, and this year it is having it in the Orrin Hills.",
        "On a {clear|cold} {morning|evening} the {road|path} up to $hill looks much as it must have looked to the last lynx.",
        "In the bar of the inn at $place there is a rule: no dogs on the settle, no talk of lynx before nine.",
    ),
}
EVENTS = {
    4: (
        "The first lamb losses of the season were {confirmed|reported} {above|near} $place.",
        "$n1 lambs were found dead on $hill {at dawn|after a night of rain}, and a vet has taken samples.",
        "Since the first kill at $place the telephone of the trust has not stopped.",
    ),
    6: (
        "The vote on compensation {is due|was taken} in the county chamber {this week|on $weekday}.",
        "The compensation scheme, argued over since April, came before the council.",
        "Whether losses will be paid for, and by whom, was the question before councillors.",
    ),
    9: (
        "The inquiry into the release {opened|sat} at $place {under Sir Edmund Hale|with three hundred people waiting outside}.",
        "On its {first|second|third|fourth} day the inquiry heard {from the board|evidence about the licence}.",
        "Sir Edmund Hale, who chairs the inquiry, asked for plain answers and got some.",
    ),
    10: (
        "Three kittens, filmed by a camera on $hill, have {changed the mood of the valley|softened some hard words}.",
        "The kittens on camera are the first {born wild in the Orrin Hills for three centuries|of their kind here in living memory}.",
        "Nobody had planned for kittens.",
    ),
}
ENDINGS = (
    "The {discussion|argument} goes on {at $place on $weekday|next month}.",
    "{The board|The trust} {did not answer calls|said it would reply in writing}.",
    "For now, the gates on $hill are shut and the cameras are running.",
    "{Nothing|Little} was decided, which in the valley counts as progress.",
    "$who will be {there again|back for the next one}.",
    "Then the lights went up and people looked for their coats.",
    "A report is promised for $month.",
    "The lynx, as far as anyone knows, slept through it.",
    "What the ewes think has not been minuted.",
    "Outside it had begun to {rain|snow|clear}.",
)
HEADLINES = {
    "livelihood": (
        "{Nine|Eleven} pages for a dead ewe",
        "What a lamb is worth at $place",
        "{Losses|Bills} mount on $hill",
        "“We are paying for this”",
        "Who pays for the lambs?",
        "Compensation: {late again|a start|still no money}",
        "$place farmers count the cost",
        "Fewer lambs at the {autumn|Saltergate} sale",
        "The price of a flock",
        "Tenants near $place {weigh giving up|want answers on payments}",
    ),
    "ecology": (
        "Birch returns to $hill",
        "Fewer deer, more {seedlings|song}",
        "What the cameras on $hill saw",
        "A wood gets its hunter back",
        "Deer on the move below $hill",
        "The slow work of a forest",
        "Seedlings counted at $place",
        "Balance: what the {plots|counts} show",
    ),
    "fear": (
        "{Parents|Families} at $place want lights on the lane",
        "“It did not run”",
        "Path to $hill closed {for a week|again}",
        "A print by the swings",
        "Calls to police after noises at $place",
        "School keeps children {in|off the wood path}",
        "Is it safe? $place asks",
        "Terrier hurt near $place",
    ),
    "heritage": (
        "The bell walk climbs $hill again",
        "What the old maps call a catwell",
        "Hefted: the memory of a flock",
        "{Songs|Strays} and smit marks at $place",
        "The last lynx, in the parish book",
        "“A heft is not a line on a map”",
        "Shepherds meet at $place",
    ),
    "governance": (
        "Licence: {who was asked|what it says}",
        "Board {promises|delays} a review",
        "Inquiry hears of {missing minutes|the first losses}",
        "Council votes {again|on a fund}",
        "Trust, and how it was lost",
        "Who answers for the collars?",
        "A seat on the board for $place?",
        "Hale inquiry {sits|turns to the licence}",
    ),
    "wonder": (
        "Ten seconds on $hill",
        "Kittens",
        "Rooms full at $place",
        "The tracks in the snow",
        "Why they wait in the rain",
        "A call across the corrie",
        "The {guides|children} of $place and their lynx",
        "Postcards sold out",
    ),
}
AGENCY = """Lynx kill confirmed on $hill as council prepares vote

A vet has confirmed that four lambs found dead on $hill were killed by a lynx, the first proven losses since twelve animals were released in the Orrin Hills.

The lambs belonged to $who, a tenant at $place who keeps 340 ewes. “I knew what it was before the vet did,” the farmer said. “You do not mistake it for a fox.”

The trust that holds the licence expressed regret and said it would pay for the animals without waiting for a scheme. Its collars put a young male within half a mile of the field on two of the three nights.

The county council will vote in June on a compensation fund. Under the draft, a lamb would be paid for at 95 pounds and a breeding ewe at three times that sum, provided that a vet sees the carcass within two days.

The farmers' union called the draft a start but said that the form was too long and the time too short. Conservation groups said the number of losses was small and had been foreseen in the plan.

The board that oversees the release meets on Thursday."""
