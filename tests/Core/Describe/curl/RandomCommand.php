<?php

declare(strict_types=1);

namespace Tests\Core\Describe\curl;

/**
 * Makes commands of every option that both curl and the importer know, with values that people write and
 * values that break things. They run in a folder that holds `loan.json`, `note.txt` and `headers.txt`.
 */
final class RandomCommand
{
    private const VALUES = ['open', 'gull-tower', 'two words', 'ünïcode ☂', '[1]', '[id]', '{a}', '{{b}}', '<x>', '$HOME', '${HOUSE}', '$(date)', 'a=b', 'a&b', 'x;y', 'it\'s', 'say "hi"', 'back\\slash', 'end\\', "two\nlines", "a\\\nb", '50%', '%41', '#7', '1.0', '12345678901234567890', 'true', 'null', '', '-', 'a,b', 'q?', 'YOUR_KEY', 'password', '2031-03-02', '00047', '@', '*', '~', 'a+b'];

    private const JSON = ['{"text":"hello"}', '{"input":"x"}', '{"literal":{"text":"y"}}', '{"text":{"a":1}}', '{"n":12345678901234567890}', '[12345678901234567890]', '[1.0]', '{"a":1.0,"b":1e5,"c":-0,"d":0.10}', '{"a":null,"b":{},"c":[],"d":""}', '{"note":"two \"crates\"","tags":["a","b"]}', '{"tags":["a",""]}', '{"deep":{"er":{"and":{"deeper":{"still":{"more":{"x":1}}}}}}}', '[1,"a",null]', '{"a":[1.5,2]}', '{"day":"2031-02-30","at":"2031-02-03T25:00:00"}', '{"due":"2031-03-02","ok":true}', '{"a b":"x","a.b":"y","":"z"}', "{\n  \"spread\" : [ 1 , 2 ]\n}", '{"u":"\u00fc\/"}', '{"same":1,"same":2}', '"text"', '7', '[]', '{}', '{"password":"open sesame"}', '{"{name}":"{value}"}'];

    /**
     * @param  string  $address  of the server: `http://127.0.0.1:8000`
     */
    public static function make(string $address): string
    {
        $words = ['curl', '-s', '--max-time', '5', '-o', '/dev/null', '-g'];
        $input = null;
        $body = mt_rand(0, 9);
        $hasProof = false;
        foreach (range(1, mt_rand(1, 4)) as $ignored) {
            do {
                $option = self::option();
                // Of several that prove who asks a source keeps the first, and says so.
                $isProof = preg_match('/^(?:-u|--oauth2-bearer)$|Authorization|X-Api-Key|sid=/', $option[0].($option[1] ?? '')) === 1;
            } while ($isProof && $hasProof);
            $hasProof = $hasProof || $isProof;
            array_push($words, ...$option);
        }
        if ($body < 5) {
            [$more, $input] = self::body();
            array_push($words, ...$more);
        }
        if ($body === 1 && $input === null) {
            array_push($words, '-G');
        }
        if (mt_rand(0, 3) === 0) {
            array_push($words, self::one(['-X', '--request']), self::one(['GET', 'POST', 'PUT', 'PATCH', 'DELETE', 'OPTIONS', 'TRACE', 'PURGE']));
        }
        $url = $address.self::path().self::query();
        $words = mt_rand(0, 4) === 0 ? [...$words, '--url', self::quoted($url)] : [...$words, self::quoted($url)];

        return implode(self::one([' ', ' ', '  ', " \\\n  "]), $words).($input === null ? '' : $input);
    }

    /**
     * @return list<string>
     */
    private static function option(): array
    {
        $value = self::one(self::VALUES);
        $line = strtr($value, ["\n" => ' ', "\r" => ' ']);

        return match (mt_rand(0, 15)) {
            0 => ['-H', self::quoted('X-House: '.$line)],
            1 => ['-H', self::quoted('X-House: '.$line), '--header', self::quoted('X-House: second')],
            2 => ['-H', self::quoted(self::one(['Referer', 'If-None-Match', 'Accept-Language', 'Cache-Control', 'Origin', 'If-Match', 'Prefer', 'Accept', 'X-Api-Key', 'Pragma', 'DNT', 'Range']).': '.($line === '' ? 'v' : $line))],
            3 => ['-H', self::quoted('X-Empty;')],
            4 => [self::one(['-A', '--user-agent']), self::quoted('Circle/1.0 ('.trim($line).')')],
            5 => ['-e', self::quoted('https://desk.saltmarsh.example/'.mt_rand(1, 9))],
            6 => ['-b', self::quoted(self::one(['desk=2', 'desk="q"', 'desk=2; house=gull tower', 'a=1; b=', 'desk=a,b', 'sid=abc123', 'v=back\\slash']))],
            7 => ['-b', self::quoted('desk=2'), '--cookie', self::quoted('desk=3')],
            8 => ['-u', self::quoted(self::one(['desk:word', 'desk:two words', 'desk:a:b', 'dësk:wörd', ':only']))],
            9 => ['--oauth2-bearer', self::quoted('tok-'.mt_rand(100, 999))],
            10 => ['-H', self::quoted('Authorization: '.self::one(['Bearer abc.def', 'Token abc', 'bearer abc', 'ApiKey:x abc', 'Digest username="a", realm="b"', 'abc', 'Basic ZGVzazp3b3Jk', 'Basic !!']))],
            11 => ['--url-query', self::quoted(self::one(['q', 'plain']).'='.$value)],
            12 => ['-r', '0-99'],
            13 => ['--compressed'],
            14 => ['-H', '@headers.txt'],
            default => ['-L', '-k'],
        };
    }

    /**
     * @return array{list<string>, string|null} words, and what follows the command for it to read
     */
    private static function body(): array
    {
        $value = self::one(self::VALUES);
        $type = mt_rand(0, 2) === 0 ? ['-H', self::quoted('Content-Type: '.self::one(['application/json', 'application/json; charset=utf-8', 'application/vnd.api+json', 'text/plain', 'application/xml', 'text/csv', 'application/x-ndjson']))] : [];

        return match (mt_rand(0, 12)) {
            0 => [['--json', self::quoted(self::one(self::JSON))], null],
            1 => [['-d', self::quoted(self::one(self::JSON)), ...$type], null],
            2 => [['-H', self::quoted('Content-Type: application/json'), '--data-raw', self::quoted(self::one(self::JSON))], null],
            3 => [['-d', self::quoted("note=$value"), '-d', self::quoted('a=1&b=2&a=3&c'), ...$type], null],
            4 => [['-d', self::quoted($value === '@' || $value === '' ? 'x' : ltrim($value, '@')), ...$type], null],
            5 => [['--data-urlencode', self::quoted("note=$value"), '--data-urlencode', self::quoted('='.$value)], null],
            6 => [['--data-binary', '@loan.json', ...$type], null],
            7 => [['-d', '@loan.json', '-d', self::quoted('x=1')], null],
            8 => [['-F', self::quoted('title='.strtr($value, ['@' => 'at', '<' => 'lt', ';' => ',', '"' => ''])), '-F', 'file=@note.txt', '-F', 'file=@loan.json;type=application/json'], null],
            9 => [['--form-string', self::quoted("title=$value"), '--form-string', 'title=second'], null],
            10 => [['-d', '@-'], " <<EOF\n".self::one(['{"text":"hello"}', 'a=1&b=two words', "line one\nline two"])."\nEOF"],
            11 => [['-T', 'note.txt', ...$type], null],
            default => [['--data-ascii', self::quoted('a=&b=1&a=&wsdl')], null],
        };
    }

    private static function path(): string
    {
        return self::one(['', '/', '/v2/loans', '/v2/loans/', '/v2/loans/17', '/v2/loans/17/', '/v2/loans/17/items/0042', '/v2/loans/$count', '/v2/$metadata', '/odata/Loans(7)', "/odata/Loans('a%20b')", '/v2/a%2Fb/c', '/v2/loans/%7Bid%7D', '/v2//double', '/api', '/v2', '/v2/loans/x;y=1', '/v2/loans/a+b', '/v2/loans/caf%C3%A9', '/v2/loans/%FF', '/v2/loans/2031-03-02', '/v2/@me']);
    }

    private static function query(): string
    {
        return self::one(['', '', '?wsdl', '?a=', '?status=open&limit=2', '?a=1&b=2&a=3', '?tag[]=x&tag[]=y', '?tag[]=x&tag=y', '?filter[status]=open', '?q=%5B1%5D', '?q=[1]', '?q={a}', '?q=%3Cx%3E', '?q=$HOME', '?loan_id=3&id=4', '?key=k-1&a=1', '?q=a%2Bb+c', '?q=a%26b', '?x=1&&y=2', '?X-House=1', '?desk=9', '?fields=id,name', '?$filter=seaworthy%20eq%20true&$top=5', '?a=&b', '?a&a', '?at=2031-03-02T10:00:00%2B01:00']);
    }

    /**
     * A word in one of the ways in which a shell lets it be written.
     */
    private static function quoted(string $text): string
    {
        $single = "'".str_replace("'", "'\\''", $text)."'";
        $double = '"'.preg_replace('/[\\\\"$`]/', '\\\\$0', $text).'"';

        return match (mt_rand(0, 3)) {
            0 => $double,
            1 => '$\''.strtr($text, ['\\' => '\\\\', "'" => "\\'", "\n" => '\\n']).'\'',
            2 => preg_match('~^[A-Za-z0-9_./:=@%,+-]+$~D', $text) === 1 ? $text : $single,
            default => $single,
        };
    }

    /**
     * @param  non-empty-list<string>  $all
     */
    private static function one(array $all): string
    {
        return $all[mt_rand(0, count($all) - 1)];
    }
}
