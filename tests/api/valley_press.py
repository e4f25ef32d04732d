"""Twenty-four short texts of the valley as its papers would print them, and questions made by hand that they answer or
do not answer."""

#: Title, source, date, text.
ARTICLES = (
    (
        "Twelve lynx released above Orrin Water",
        "Orrin Courier",
        "2031-01-16",
        "Twelve lynx were set free in the forest above Orrin Water on Tuesday morning. Rangers opened the crates at first light"
        " while snow was falling. The animals, seven females and five males, had been flown in from a breeding station and spent"
        " three weeks in quarantine. Each of them wears a collar that sends its position every four hours. “They went up the"
        " slope without looking back,” said Noor Halden, who leads the tracking team.",
    ),
    (
        "Board defends the licence",
        "Orrin Courier",
        "2031-01-23",
        "The Hill Board granted the licence for the release on 4 December by eight votes to five. Its chair, Petra Lindqvale, said"
        " that the vote had followed two years of study. Critics complain that no meeting was held in the valley before the"
        " decision. The board will publish a review after the first year.",
    ),
    (
        "What the fence would cost",
        "Hill Farmer",
        "2031-02-05",
        "A lynx-proof fence round a lambing field costs about £4,200, according to figures the union gave us. Half of that would"
        " come from a grant, if the county agrees. Wilf Rakes of High Keld has fenced one field at his own expense. “I have eleven"
        " fields,” he said. “You can do the sum yourself.”",
    ),
    (
        "First lambs lost at High Keld",
        "Hill Farmer",
        "2031-04-12",
        "Nine lambs were killed at High Keld in the night of 9 April, the first losses of the season that a vet has put down to"
        " lynx. Una Tarrock, the district vet, found bite marks at the throat of six of the carcasses. The other three had been"
        " eaten by foxes. Rakes has moved his ewes to the lower pasture. He reckons the loss at £1,100.",
    ),
    (
        "Vet asks for calm",
        "Valley Wire",
        "2031-04-15",
        "District vet Una Tarrock has asked farmers not to leave carcasses where they lie. Every one should be covered and"
        " reported within 24 hours, she told a meeting in Nether Orrin, because tracks are gone after a day of rain. She had been"
        " called out 31 times since March. In fourteen cases a dog was to blame.",
    ),
    (
        "School walk goes ahead",
        "Valley Wire",
        "2031-04-28",
        "The primary school at Carrow held its spring walk as planned on Friday, with 46 children and nine parents. Head teacher"
        " Jess Orrocks had shortened the route after two families kept their children at home. A ranger walked at the front and"
        " another at the back. “The only wild animal we met was a toad,” Orrocks said.",
    ),
    (
        "Claims pile up",
        "Hill Farmer",
        "2031-05-14",
        "The number of claims for compensation has risen to 62, the county says; nineteen have been paid. A farmer waits five"
        " months on average for the money. The union wants the county to pay within 30 days. A lamb is worth £85 under the"
        " scheme, a breeding ewe £190.",
    ),
    (
        "Deer move up the hill",
        "The Lantern",
        "2031-05-20",
        "Since the release the roe deer of the Orrin Hills have left the young birch woods by day, a study by Ilse Marrow has"
        " found. Her team counted droppings on 40 plots before and after. On the plots in cover they fell by a third. Whether the"
        " birch will profit, she writes, nobody can tell before 2034.",
    ),
    (
        "Vote on compensation",
        "Orrin Courier",
        "2031-06-11",
        "The county council voted on Monday to double the fund for compensation to £240,000. Twenty-two members were for it,"
        " fifteen against. Colm Rudd, who spoke for the farmers, called the sum an insult. The money will come from the road"
        " budget, which means that the bridge at Hollin will not be repaired this year.",
    ),
    (
        "Hollin bridge waits again",
        "Valley Wire",
        "2031-06-13",
        "Lorries of more than seven tonnes will have to go round by Saltergate until at least next summer. The repair of Hollin"
        " bridge has been put off because the county needs the money for lost sheep. The detour is eighteen miles long. Baker Kate"
        " Sorley says it adds forty minutes to her round.",
    ),
    (
        "Hefted flocks",
        "The Lantern",
        "2031-06-22",
        "A hefted flock knows its own part of the hill and passes that knowledge on from ewe to lamb. There are 23 such flocks"
        " left in the Orrin Hills; in 1970 there were 61. “Sell the ewes and the hill forgets,” says Bram Oskell, whose family has"
        " grazed Wether Crag for seven generations. He sold forty ewes in May.",
    ),
    (
        "Bell walk draws a crowd",
        "Orrin Courier",
        "2031-07-08",
        "Some 1,400 people took part in the bell walk on Sunday, more than in any year since the war. The oldest bell was carried"
        " by Agnes Tolland, who is 84. Many had painted lynx on their flags, some in praise and some not. Rain held off until the"
        " last hymn.",
    ),
    (
        "Guest houses full",
        "Valley Wire",
        "2031-07-19",
        "Every bed between Carrow and Saltergate is taken until the end of August. Guest houses report that bookings are up by 38"
        " per cent on last summer. Most guests ask where they might see a lynx. Nadia Firth, who runs the tourist office, tells"
        " them the truth: hardly anybody ever does.",
    ),
    (
        "A dog, after all",
        "Hill Farmer",
        "2031-08-06",
        "The three ewes found dead below Wether Crag in July were killed by a dog, not by a lynx. Samples taken by Una Tarrock"
        " were sent to a laboratory in Lanchford. Bram Oskell withdrew his claim the same day. “I said what I saw,” he told us. “I"
        " saw the wrong thing.”",
    ),
    (
        "Inquiry opens",
        "Orrin Courier",
        "2031-09-09",
        "The inquiry into the release opened on Monday in the drill hall at Nether Orrin. It is chaired by Sir Edmund Hale, a"
        " retired judge. He means to hear 54 witnesses by Christmas. Petra Lindqvale was the first and spoke for three hours. She"
        " admitted that the board had not answered 117 letters from residents.",
    ),
    (
        "Where did the letters go?",
        "The Lantern",
        "2031-09-14",
        "The letters had been put in a cupboard because the clerk who should have answered them was ill. Idris Rowell, the county"
        " clerk, apologised on Thursday. No letter had been thrown away, he said. Residents will get an answer by the end of"
        " October.",
    ),
    (
        "Lynx found dead on the road",
        "Valley Wire",
        "2031-09-25",
        "A young male lynx was run over on the road between Saltergate and Hollin on Wednesday night. It is the second of the"
        " twelve to die; a female was found in a snare in March. The driver reported the accident himself. Ten animals are still"
        " sending signals, Noor Halden said.",
    ),
    (
        "Snare case in court",
        "Orrin Courier",
        "2031-10-02",
        "A gamekeeper of 52 has been fined £2,500 for setting the snare in which a lynx died in March. The court at Brackenport"
        " heard that he had set it for foxes. His employer, the Garth estate, has dismissed him. He will not appeal.",
    ),
    (
        "Kittens on camera",
        "Orrin Courier",
        "2031-10-17",
        "Three kittens were filmed by a camera trap on Carrow Edge last week, the first to be born in the valley. The film lasts"
        " nineteen seconds. By Friday evening it had been watched 210,000 times. Noor Halden thinks they are about ten weeks old."
        " The primary school will choose their names.",
    ),
    (
        "Names for the kittens",
        "Valley Wire",
        "2031-11-04",
        "Bracken, Sleet and Thimble are the names of the lynx kittens. The children at Carrow chose them from a list of 90. Thimble"
        " won most votes. Jess Orrocks says the lesson was about elections, too.",
    ),
    (
        "Farmers march",
        "Hill Farmer",
        "2031-11-12",
        "About 300 farmers marched through Brackenport on Saturday and left a cart of fleeces at the door of the county hall."
        " Colm Rudd demanded that the lynx be caught and taken away. The county replied that it had no plan to do so. Two people"
        " were arrested for blocking the bridge and released in the evening.",
    ),
    (
        "What lynx eat",
        "The Lantern",
        "2031-11-21",
        "Ilse Marrow’s students have collected 128 droppings since January. Roe deer made up 71 per cent of what they found,"
        " hares 14 and sheep six. The rest was birds and a sock. A lynx needs about a kilogram of meat a day.",
    ),
    (
        "Inquiry hears the children",
        "Orrin Courier",
        "2031-12-05",
        "Sir Edmund Hale spent Thursday morning at the school in Carrow. Eleven children told him what they thought. Most were glad"
        " of the lynx; four were afraid of walking home in the dark. He promised to print every word of it in his report, which is"
        " due in March 2032.",
    ),
    (
        "A year on",
        "Valley Wire",
        "2031-12-30",
        "Ten adult lynx and three kittens live in the hills at the end of the year. 104 sheep were killed by them, the county has"
        " found, of about 38,000 that graze there. The fund has paid out £96,000. The board will decide in May whether more"
        " animals are to come.",
    ),
)  # fmt: skip

#: What is asked, and words one of which stands in the passages of a right answer.
ANSWERABLE = (
    ("How many lynx were released?", ("Twelve lynx",)),
    ("When did the board grant the licence?", ("4 December",)),
    ("How much does a fence for a lambing field cost?", ("£4,200",)),
    ("How many lambs were killed at High Keld?", ("Nine lambs",)),
    ("Who found bite marks on the carcasses?", ("Una Tarrock, the district vet",)),
    ("Why should carcasses be covered and reported?", ("because tracks are gone",)),
    ("How many children took part in the spring walk?", ("46 children",)),
    ("How many claims have been paid?", ("nineteen have been paid",)),
    ("How much is a breeding ewe worth under the scheme?", ("£190",)),
    ("How long does a farmer wait for the money?", ("five months",)),
    ("What did Marrow find about the deer?", ("left the young birch woods",)),
    ("When did the county council vote on the fund for compensation?", ("on Monday to double",)),
    ("What did Colm Rudd call the sum?", ("an insult",)),
    ("Why was the repair of the bridge put off?", ("needs the money for lost sheep",)),
    ("How long is the detour?", ("eighteen miles",)),
    ("How many hefted flocks are left in the hills?", ("23 such flocks",)),
    ("How many ewes did Bram Oskell sell?", ("forty ewes",)),
    ("How many people took part in the bell walk?", ("1,400 people",)),
    ("Who carried the oldest bell?", ("Agnes Tolland",)),
    ("By what percentage are bookings up?", ("38 per cent",)),
    ("What killed the ewes below Wether Crag?", ("killed by a dog",)),
    ("Where did the inquiry open?", ("drill hall",)),
    ("How many witnesses does the inquiry want to hear?", ("54 witnesses",)),
    ("Why had the letters not been answered?", ("was ill",)),
    ("How many letters had the board not answered?", ("117 letters",)),
    ("When was a lynx run over?", ("Wednesday night",)),
    ("What was the gamekeeper fined?", ("£2,500",)),
    ("How many kittens were filmed on Carrow Edge?", ("Three kittens",)),
    ("What did the farmers leave at the county hall?", ("cart of fleeces",)),
    ("How many sheep did the lynx kill in the year?", ("104 sheep",)),
)

#: What the texts do not tell, although they have most of the words.
UNANSWERABLE = (
    "How many wolves were released?",
    "How many lynx did the school release?",
    "When did the council grant the licence?",
    "Who paid for the crates?",
    "How much does a camera trap cost?",
    "How many lambs were killed at Carrow?",
    "Why did Petra Lindqvale resign?",
    "How many hens were killed at High Keld?",
    "How many teachers took part in the bell walk?",
    "What does Agnes Tolland think about the lynx?",
    "How old is Noor Halden?",
    "When was Noor Halden born?",
    "How much was Wilf Rakes fined?",
    "What did Kate Sorley say about compensation?",
    "Why was the school closed?",
    "How many children were bitten by a lynx?",
    "How many rangers were arrested?",
    "When will the bridge at Hollin be opened?",
    "How many kittens were killed by foxes?",
    "Who shot the second lynx?",
    "How much did the inquiry cost?",
    "How many letters did Sir Edmund Hale write?",
    "Why do lynx eat sheep?",
    "How many deer were killed on the road?",
    "What did Bram Oskell tell the inquiry?",
    "When did Colm Rudd sell his ewes?",
    "How many visitors saw a lynx?",
    "How far do lynx wander in a night?",
    "Who bought the forty ewes?",
    "How many votes did Sleet win?",
)

MORE_ANSWERABLE = (
    ("Who leads the tracking team?", ("Noor Halden, who leads",)),
    ("How long were the animals in quarantine?", ("three weeks in quarantine",)),
    ("How many females were flown in?", ("seven females",)),
    ("What does the collar send?", ("sends its position",)),
    ("Who is the chair of the board?", ("Its chair, Petra Lindqvale",)),
    ("When will the board publish a review?", ("after the first year",)),
    ("How many fields does Wilf Rakes have?", ("eleven fields",)),
    ("Where did Rakes move his ewes?", ("lower pasture",)),
    ("How much does Rakes reckon he lost?", ("£1,100",)),
    ("How many carcasses had been eaten by foxes?", ("other three had been",)),
    ("Within how many hours should a carcass be reported?", ("24 hours",)),
    ("Why did Jess Orrocks shorten the route?", ("two families kept",)),
    ("What did they meet on the walk?", ("was a toad",)),
    ("When will anybody know whether the birch profits?", ("2034",)),
    ("How many members voted against the fund?", ("fifteen against",)),
    ("Which lorries have to go round by Saltergate?", ("seven tonnes",)),
    ("How many minutes does the detour add to the baker's round?", ("forty minutes",)),
    ("How many flocks were there in 1970?", ("61",)),
    ("For how many generations has the family grazed Wether Crag?", ("seven generations",)),
    ("How old is Agnes Tolland?", ("who is 84",)),
    ("What do most guests ask?", ("where they might see a lynx",)),
    ("Where were the samples sent?", ("laboratory in Lanchford",)),
    ("Who withdrew his claim?", ("Bram Oskell withdrew",)),
    ("Who chairs the inquiry?", ("Sir Edmund Hale",)),
    ("Where had the letters been put?", ("in a cupboard",)),
    ("How long does the film of the kittens last?", ("nineteen seconds",)),
    ("What are the names of the kittens?", ("Bracken, Sleet and Thimble",)),
    ("How many droppings have the students collected?", ("128 droppings",)),
    ("How many children told Sir Edmund what they thought?", ("Eleven children",)),
    ("How much has the fund paid out?", ("£96,000",)),
)
MORE_UNANSWERABLE = (
    "How many bears live in the forest?",
    "Who paid for the quarantine?",
    "How much does a collar weigh?",
    "How many members of the board voted by letter?",
    "When did Petra Lindqvale leave the board?",
    "How many fields has Bram Oskell fenced?",
    "Which vet found the dead kittens?",
    "How many dogs were shot?",
    "What did Una Tarrock say about the fence?",
    "How many parents were afraid of the dark?",
    "Why was the spring walk cancelled?",
    "How much is a ram worth under the scheme?",
    "How many claims were rejected?",
    "What does Ilse Marrow think of the compensation?",
    "How many plots were burnt?",
    "Who repaired the bridge at Hollin?",
    "How much does a loaf cost at the baker's?",
    "How old is Bram Oskell?",
    "How many bells were stolen?",
    "When was the oldest bell cast?",
    "How much does a bed cost in Carrow?",
    "How many guests were injured?",
    "Why did the judge retire?",
    "What is the wife of the clerk called?",
    "How many ewes did the driver run over?",
    "Who set the camera trap on Carrow Edge?",
    "How many children voted for Bracken?",
    "How many police officers were at the march?",
    "What do the kittens eat?",
    "How much did the report cost?",
)

FURTHER_ANSWERABLE = (
    ("How many crates did the rangers open?", ("opened the crates",)),
    ("What does every lynx wear?", ("wears a collar",)),
    ("By how many votes was the licence granted?", ("eight votes",)),
    ("How many years of study preceded the vote?", ("two years of study",)),
    ("What do critics complain of?", ("no meeting was held",)),
    ("Who fenced a field at his own expense?", ("Wilf Rakes",)),
    ("When were the lambs at High Keld killed?", ("9 April",)),
    ("How many times was the vet called out?", ("31 times",)),
    ("In how many cases was a dog to blame?", ("fourteen cases",)),
    ("When did the school hold its spring walk?", ("on Friday",)),
    ("How many parents went on the walk?", ("nine parents",)),
    ("What does the union want from the county?", ("pay within 30 days",)),
    ("What is a lamb worth under the scheme?", ("£85",)),
    ("On how many plots did the team count droppings?", ("40 plots",)),
    ("Who spoke for the farmers?", ("Colm Rudd, who spoke",)),
    ("Where will the money for the fund come from?", ("road budget",)),
    ("What passes from ewe to lamb?", ("passes that knowledge",)),
    ("When did Bram Oskell sell his ewes?", ("in May",)),
    ("What had many painted on their flags?", ("painted lynx",)),
    ("Until when is every bed taken?", ("end of August",)),
    ("Who runs the tourist office?", ("Nadia Firth",)),
    ("How long did Petra Lindqvale speak?", ("three hours",)),
    ("Who apologised for the letters?", ("Idris Rowell",)),
    ("When will residents get an answer?", ("end of October",)),
    ("How many animals are still sending signals?", ("Ten animals",)),
    ("Why did the gamekeeper set the snare?", ("set it for foxes",)),
    ("How many times had the film been watched?", ("210,000",)),
    ("Which kitten won most votes?", ("Thimble",)),
    ("How many farmers marched through Brackenport?", ("300 farmers",)),
    ("How much meat does a lynx need a day?", ("kilogram",)),
)
FURTHER_UNANSWERABLE = (
    "How many eagles nest on Wether Crag?",
    "Who bred the lynx?",
    "How much did the collars cost?",
    "How many residents voted on the licence?",
    "What did Petra Lindqvale say about the kittens?",
    "How many gates does the fence have?",
    "How many cows were killed at High Keld?",
    "When did Una Tarrock become a vet?",
    "How many teachers work at the school?",
    "Why did the ranger fall?",
    "How many claims did Wilf Rakes make?",
    "How much is a dog worth?",
    "What does Colm Rudd think about hares?",
    "How many lorries cross the bridge each day?",
    "Who built the bridge at Hollin?",
    "How many ewes did Wilf Rakes sell?",
    "What hymn was sung at the end?",
    "How many beds does Nadia Firth let?",
    "Who owned the dog that killed the ewes?",
    "How much did the laboratory charge?",
    "How many judges sit on the inquiry?",
    "When was Idris Rowell dismissed?",
    "How fast was the driver going?",
    "How many snares were found?",
    "Where do the kittens sleep?",
    "What colour is Thimble?",
    "How many farmers were arrested?",
    "Why do hares fear the lynx?",
    "How many pages has the report?",
    "How many lynx will be released in May?",
)

#: Asked once, after the rules were made; nothing was changed for one of them.
HELD_OUT_ANSWERABLE = (
    ("On what day were the lynx set free?", ("Tuesday morning",)),
    ("How many males were flown in?", ("five males",)),
    ("Who opened the crates?", ("Rangers opened",)),
    ("Who granted the licence?", ("The Hill Board granted",)),
    ("What share of the cost of the fence would come from a grant?", ("Half of that",)),
    ("How many carcasses had bite marks?", ("six of the carcasses",)),
    ("Who moved his ewes to the lower pasture?", ("Rakes has moved",)),
    ("Where was the vet's meeting held?", ("meeting in Nether Orrin",)),
    ("How many families kept their children at home?", ("two families",)),
    ("To what number have the claims risen?", ("risen to 62",)),
    ("When was Marrow's study of the deer printed?", ("Since the release",)),
    ("By how much did droppings fall on the plots in cover?", ("fell by a third",)),
    ("How much money is in the fund for compensation?", ("£240,000",)),
    ("How many members were for the fund?", ("Twenty-two",)),
    ("What is Kate Sorley's trade?", ("Baker Kate",)),
    ("Why has the repair of the bridge been put off?", ("needs the money for lost sheep",)),
    ("Who carried a bell at the walk?", ("Agnes Tolland",)),
    ("What did the rain do?", ("Rain held off",)),
    ("Who sent the samples to a laboratory?", ("Samples taken by Una Tarrock",)),
    ("Where was the inquiry opened?", ("drill hall",)),
    ("Which witness was heard first?", ("Petra Lindqvale was the first",)),
    ("What did Idris Rowell do on Thursday?", ("apologised on Thursday",)),
    ("Where was a male lynx run over?", ("between Saltergate and Hollin",)),
    ("How old is the gamekeeper?", ("gamekeeper of 52",)),
    ("Who dismissed the gamekeeper?", ("Garth estate",)),
    ("How many kittens were born in the valley?", ("Three kittens",)),
    ("How many names were on the list?", ("list of 90",)),
    ("How many people were arrested?", ("Two people",)),
    ("What share of the droppings was roe deer?", ("71 per cent",)),
    ("When is the report of the inquiry due?", ("March 2032",)),
)
HELD_OUT_UNANSWERABLE = (
    "How many lynx escaped from the breeding station?",
    "Where is the breeding station?",
    "Who wrote the licence?",
    "How many wolves does a fence keep out?",
    "When will the county pay for the fence?",
    "How many goats were killed at High Keld?",
    "Which fox killed the lambs?",
    "How many meetings did Una Tarrock hold?",
    "What did the toad eat?",
    "How many rangers are there in the hills?",
    "Why do claims take so long?",
    "How much did the study of the deer cost?",
    "Who voted against the fund?",
    "What did the council say to Colm Rudd?",
    "How many bakers are there in Saltergate?",
    "How many ewes are there in a hefted flock?",
    "Who painted the flags?",
    "How much does a room cost a night?",
    "What was the dog called?",
    "How many times was Sir Edmund Hale interrupted?",
    "Who stole the letters?",
    "How much did the driver pay?",
    "When did the gamekeeper appeal?",
    "How many cameras are there on Carrow Edge?",
    "Why did the children choose Thimble?",
    "How many police came to Brackenport?",
    "What do birds eat?",
    "How many teachers were afraid of the lynx?",
    "When did Agnes Tolland die?",
    "How many sheep graze at High Keld?",
)
