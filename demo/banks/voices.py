"""Posts, survey answers and interviews."""

POST_FORMS = (
    "{C}. {Just saying.|That's the post.|End of.|Discuss.|}",
    "{c2}, and {c} #lynx",
    "{Honestly,|Look,|Sorry but|Hot take:|Reminder:|Again:} {c}",
    "{Anyone else|Does nobody} {think|notice} that {c}? #orrinlynx",
    "“{C}” my {neighbour|gran|boss|sister} says. {She's not wrong|He has a point|I couldn't answer that}.",
    "{c} {tag}",
    "@valleywire {C}. {Print that|Your comments are a mess|Good piece though}.",
    "{C} {emoji}",
    "{C}!! {emoji}{emoji} {tag}",
    "so {c}. {ok then|great|who knew}",
    "Walked up past $place {this morning|at first light|with the dog}. {C} {emoji}",
    "to the {person|chap|woman} at the $place meeting who said {c}: {thank you|no}",
    "{tag} {C}, {whatever the board says|and everybody here knows it|at last}",
    "I've lived in $place {all my life|twenty years|since the flood} and {c}",
    "Q: who pays? A: {c} #orrinlynx",
    "#lynxwatch {weekday} {night|morning}: {quiet|tracks near $place|one on the camera}! {c} {emoji}",
    "thread: {c}. Also, {c2}. {tag}",
)
POST_EMOJI = {
    "livelihood": ("🐑", "💷", "😤", "👩‍🌾"),
    "ecology": ("🌲", "🦌", "🌱", "💚"),
    "fear": ("😬", "🚸", "😨", "👀"),
    "heritage": ("🔔", "🏞️", "📜"),
    "governance": ("🙄", "🗳️", "📄"),
    "wonder": ("😍", "🐾", "✨", "❤️"),
}
POST_TAGS = {
    "livelihood": ("#paytheclaims", "#hillfarming", "#lynx"),
    "ecology": ("#rewilding", "#birchback", "#lynx"),
    "fear": ("#lynxwatch", "#safepaths", "#orrinlynx"),
    "heritage": ("#bellwalk", "#hefted", "#orrinlynx"),
    "governance": ("#haleinquiry", "#whodecided", "#orrinlynx"),
    "wonder": ("#lynxkittens", "#lynx", "#lynxwatch"),
}
MISSPELLINGS = {
    "livelihood": "livlihood", "compensation": "compenstation", "definitely": "definately", "inquiry": "enquirey",
    "licence": "license", "lynx": "linx", "government": "goverment", "frightened": "frigthened",
    "subsidy": "subsidey", "kittens": "kitens", "predator": "preditor", "committee": "comittee",
    "tradition": "tradtion", "balance": "ballance", "safety": "saftey",
}
FOREIGN_POST = "Hoy vimos las huellas en la nieve, cerca del puente. Qué maravilla de animal, y qué silencio en el valle."
SURVEY_QUESTIONS = (
    "What does the return of the lynx mean for you and your household?",
    "What should the board do next, and why?",
)
SURVEY_MEANING = (
    "For us it means that {c}.",
    "{C}. {Otherwise not much has changed.|That is the main thing.|I think about it most days.|}",
    "Mostly that {c}. Also {c2}.",
    "Not a great deal, to be honest, though {c}.",
    "{C}, and {c2}.",
    "My {wife|husband|mother|son} would say that {c}. I would say {c2}.",
    "We {talk about it at table|argue about it at home}: {c}.",
    "I used to think nothing of it, but now {c}.",
    "In our house {it is simple|we see it like this}: {c}.",
    "As {a grandmother|a neighbour|someone who walks a lot|a newcomer} I find that {c}.",
    "{C}. That said, {c2}.",
    "{Day to day|In practice|On a good day} I would say {c}.",
    "Where I live, in the {lower|upper} village, {c}.",
    "It comes down to this: {c}.",
    "{I worry that|I am glad that|I have noticed that|Nobody mentions that} {c}.",
    "It means {worry|hope|more work|something to look forward to}, because {c}.",
)
SURVEY_NEXT = (
    "{They should|The board should|Somebody must} {listen|explain|publish the figures|pay what is owed|keep going|wait}, because {c}.",
    "{Pay the claims|Leave the animals alone|Hold a proper vote|Put up signs and lights|Finish the inquiry first}. {C}.",
    "Be honest with us. {C}.",
    "{Nothing in a hurry|Nothing at all|More of the same}: {c}.",
    "First admit that {c}. Then {talk to people|sit down with the farms|publish the collar data}.",
    "I don't know, but {c} and {c2}.",
    "{Stop|Pause|Carry on with} the release. {C}, and nobody has shown me otherwise.",
    "A review with outsiders on it. {C}.",
    "Come and {see for yourselves|talk to us at $place}. {C}.",
    "{Remember|Bear in mind|Never forget} that {c}.",
    "Whatever they do, {c}.",
    "{Set a date|Set a limit} and keep to it, since {c}.",
    "{Less paper, more people|Fewer leaflets|More field days}. {C}, and {c2}.",
    "The honest answer is that {c}. So {wait|act|ask again in spring}.",
)
SURVEY_SHORT = ("Nothing.", "No opinion.", "Not much.", "Ask me next year.", "Pay up.", "Let them be.", "I don't mind them.", "Less talk.")
AGES = ("16 to 24", "25 to 34", "35 to 49", "50 to 64", "65 and over")
OCCUPATIONS = ("farming", "tourism", "public service", "trade and crafts", "care and health", "retired", "in education", "other")
HEARD = ("neighbours", "newspaper", "radio", "network posts", "parish meeting", "the trust's leaflet", "school")
INTERVIEWS = (
    ("Una Tarrock", "Farmer", "Tarrock Bank", "livelihood", "heritage"),
    ("Bram Oskell", "Farmer", "Cawdale", "heritage", "livelihood"),
    ("Dr Ilse Marrow", "Scientist", "the field station", "ecology", "wonder"),
    ("Noor Halden", "Scientist", "Birkmoor", "wonder", "ecology"),
    ("Petra Lindqvale", "Official", "the board's office", "governance", "ecology"),
    ("Nadia Firth", "Official", "the county hall", "governance", "livelihood"),
    ("Kate Sorley", "Resident", "Nether Orrin", "fear", "governance"),
    ("Colm Rudd", "Resident", "Stennet", "fear", "wonder"),
    ("Jess Orrocks", "Business", "the inn at High Keld", "wonder", "heritage"),
)
QUESTIONS = {
    "livelihood": ("What has it cost you, in money?", "How do the claims work in practice?", "Could the farm go on without the payments?", "Has anything changed at the sales?"),
    "ecology": ("What do you see in the woods now?", "How sure can one be after so short a time?", "What would count as success for you?", "And the deer?"),
    "fear": ("Are people afraid?", "What do you tell the children?", "Has anything happened close to home?", "Do you walk the same paths as before?"),
    "heritage": ("What does hefting mean to you?", "Is the bell walk still what it was?", "What would be lost?", "Where do you know that from?"),
    "governance": ("Who decided, as far as you know?", "Do you trust the board?", "What did the inquiry change?", "What would a fair process look like?"),
    "wonder": ("Have you seen one yourself?", "Why do people come?", "What was the night of the film like?", "Has it changed how you look at the place?"),
}
OPENERS = ("Could you say who you are and how you come to be here?", "Thank you for making the time. Where shall we begin?", "Let us begin with last winter. What do you remember?")
ANSWER = (
    "{Well,|Look,|You see,|I'd say|Put it like this:|To my mind} {c}.",
    "{C}. {I have said that to anybody who would listen.|People do not like to hear it.|That is how it looks from here.|Not that anyone asked.|You get used to saying it.}",
    "I {remember|keep thinking about} a {morning|night} on $hill, {in the rain|with the dogs|before it was light}. {C}.",
    "My {father|mother|neighbour|brother} always says that {c}. {And there's something in it.|I used to laugh at that.|I'm not so sure any more.}",
    "{Yes and no.|That's a hard one.|It depends who you ask.|Do you know, I've wondered.} On the one hand {c}. On the other, {c2}.",
    "{C}, and then {c2}. {It goes round and round.|You can't have the one without the other.|Both are true.}",
    "There was a {meeting|gathering|night} at $place in $month, and somebody stood up and said that {c}. {Nobody spoke for a while.|I could have hugged her.|You could hear the clock.}",
    "What I {notice|find} is that {c}.",
    "{Take|Think of} last {winter|spring|autumn}. {C}.",
    "{I was at $place|I was up on $hill|I was in the yard} when {somebody told me|it came to me} that {c}.",
    "{My own view|What I tell people|The long and short of it} is that {c}.",
    "They say {c}. {Maybe so.|I'd want to see it written down.|They may be right.|Not in my experience.} I say {c2}.",
    "You'd have to {stand on $hill in the sleet|sit through one of those evenings at $place} to understand that {c}.",
    "{C}. {My hands were cold and I remember thinking that.|We laughed about it later.|It still makes me angry.|It still makes me smile.}",
    "There are days I think that {c}, and days I think that {c2}.",
    "And {if you don't mind my saying so|since you ask|between ourselves}, {c}.",
    "{In all these years|Since I was a child|Ever since the release} {I have held|I have been told|it has been clear to me} that {c}.",
    "{The thing is,|Mind you,|Fair's fair:|All the same,} {c}. {Write that down.|That's for your tape.|I'd say it to anyone.|}",
    "{People from outside|The ones who write about us} think {it is about a cat|we are all of one mind}. But {c}.",
    "{It isn't|I don't want to make it} simple. {C}.",
)
FILL = (
    "{I'll put the kettle on.|Mind the dog.|Sorry, that's the telephone.|Where was I?|Give me a minute.}",
    "That was {the year of the deep snow|two winters ago|before my knee}.",
    "{Ask $who, she'll tell you the same.|You should talk to $who about that.}",
    "{You can see it from the window, there, above $place.|It's that field, past $place, with the broken gate.}",
    "I wrote it down somewhere, {in the lambing book|on the calendar}.",
)
STUDIES = (
    ("Returning predators and the behaviour of roe deer in upland woods", "ecology"),
    ("Losses of lambs after the release of a carnivore: a farm survey", "livelihood"),
    ("Paying for damage: compensation schemes compared", "livelihood"),
    ("Fear of large animals among parents in rural parishes", "fear"),
    ("Hefting as local knowledge: an oral history", "heritage"),
    ("Licences, boards and trust: who decides on a release", "governance"),
    ("Birch and rowan after browsing pressure falls", "ecology"),
    ("Watching what one does not see: visitors at a lynx hide", "wonder"),
    ("Place names as evidence of lost animals", "heritage"),
    ("Public inquiries as theatre", "governance"),
    ("News frames in a rural conflict over wildlife", "governance"),
    ("Night paths: perceived safety in villages near woodland", "fear"),
    ("Guard dogs, night pens and their costs on hill farms", "livelihood"),
    ("Scat analysis of a reintroduced cat in its first year", "ecology"),
    ("Children's drawings of wild animals before and after a release", "wonder"),
)
STUDY_PLACES = ("an upland valley", "four parishes", "a hill district", "three river basins", "a border forest", "two commons")
ABSTRACT = (
    "We {surveyed $n3 households|followed $n2 farms|interviewed $n2 people|counted tracks on $n2 transects} in {an upland valley|three parishes|two neighbouring hill districts} {over two years|before and after a release}.",
    "{Results suggest|We find|The data show} that {c}.",
    "{A smaller group|Some respondents|The control plots} {point the other way|differ}: there, {c2}.",
    "{Limits of the study are|The study is limited by} {a short period|the small number of sites|self-reported figures}.",
    "We {discuss|draw} {lessons|conclusions} for {policy|practice|those who plan a release}.",
)
