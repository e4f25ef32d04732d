"""Twenty-four short texts of the valley as its papers would print them."""

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
