select l.borrower,
       count(*) as loans,
       sum(l.cover) as cover,
       sum(i.items) as items
from loans l
join (select loan_id, count(*) as items
      from loan_items group by loan_id) i
  on i.loan_id = l.loan_id
where l.status in ('open', 'packed', 'out')
group by l.borrower
order by cover desc
